"""Variants: several tries of one composition, kept side by side."""
