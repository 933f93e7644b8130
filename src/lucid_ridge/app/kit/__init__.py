"""Kit: bodies, lenses, filters, supports, close-up gear and lights."""
