"""Marks and paths of places, and what maps exchange."""
