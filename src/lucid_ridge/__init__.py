"""Lucid Ridge: from a place and a subject to a sequence of exposures that will work."""

VERSION = "0.1.0"
