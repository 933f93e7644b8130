"""Evaluation: the workbench's one call, without the database."""
