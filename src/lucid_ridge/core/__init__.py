"""Pure computation: no database, no network, no interface code."""
