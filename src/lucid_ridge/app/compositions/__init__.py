"""Compositions: saved drafts of the workbench."""
