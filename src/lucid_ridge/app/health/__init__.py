"""Whether the server lives, and whether it can do its work."""
