"""Files in and out, one a format."""
