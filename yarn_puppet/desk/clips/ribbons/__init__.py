"""Every clip as a ribbon of its frames; what can be done with clips as a whole."""
