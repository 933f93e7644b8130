"""Technique: the scene as planned, its evaluation, tensions with their mends, and the sequence."""
