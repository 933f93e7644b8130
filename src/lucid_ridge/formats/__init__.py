"""Open formats read and written."""
