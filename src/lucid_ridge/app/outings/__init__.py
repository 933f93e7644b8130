"""Outings: days with their visits, planned, kept, and written out."""
