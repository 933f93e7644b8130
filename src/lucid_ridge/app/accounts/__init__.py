"""Accounts: who may sign in, with which role, from which devices, and who was asked to join."""
