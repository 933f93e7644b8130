"""How a device comes to trust an installation that vouches for itself."""
