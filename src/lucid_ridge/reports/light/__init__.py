"""The Light bench and the day ribbon."""
