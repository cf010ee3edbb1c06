"""A sheet cut into cells, and cells made into clips that stand where they should."""
