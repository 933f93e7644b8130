"""The Sequence bench."""
