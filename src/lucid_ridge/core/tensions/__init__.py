"""Wants that a state breaks, and the changes that mend them."""
