"""Backups of the whole installation, as far as a page shows them: which there are, one more, and out to keep elsewhere."""
