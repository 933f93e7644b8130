"""Rehearsals: frames drawn beforehand, by a process of their own."""
