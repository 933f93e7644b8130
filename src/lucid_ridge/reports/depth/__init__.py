"""The Depth bench: sharpness, sweep, focus check."""
