"""Outings: how long ways take, and what fits into a day."""
