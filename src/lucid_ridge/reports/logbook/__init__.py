"""What a logbook adds up to, in words."""
