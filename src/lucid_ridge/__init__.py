"""Lucid Ridge: from a place and a subject to a sequence of exposures that will work."""
