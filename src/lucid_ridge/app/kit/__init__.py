"""Kit: bodies, lenses, filters and supports."""
