"""The search over techniques."""
