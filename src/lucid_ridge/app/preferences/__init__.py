"""Preferences: what a photographer chose once for everything that is new."""
