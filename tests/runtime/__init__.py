"""Running it for real: folders, clusters, upgrades, backups, and what a kill at any moment leaves."""
