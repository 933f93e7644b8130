"""Stops: scales, nominal values, filters and the ledger."""
