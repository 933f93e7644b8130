"""Closing the stop ledger, tones, what a polariser does, tolerances."""
