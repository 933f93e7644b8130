"""The light of a day at a place: skyline, sun and sky on each thing."""
