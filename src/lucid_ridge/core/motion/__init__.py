"""Motion: travel on the sensor, looks of water, hand-held limits."""
