"""Outlooks: how a composition looks and when its light comes next, worked out once and kept."""
