"""Why a state did or did not change."""
