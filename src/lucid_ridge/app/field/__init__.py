"""Sequences computed for the field."""
