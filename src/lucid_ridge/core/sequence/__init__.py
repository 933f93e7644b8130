"""Frames in order, their time, and what is done between them."""
