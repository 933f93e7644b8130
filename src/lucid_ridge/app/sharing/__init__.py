"""Sharing: a place or a composition that somebody else may look at, or copy into their own."""
