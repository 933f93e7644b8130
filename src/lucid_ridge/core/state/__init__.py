"""What follows from a scene: depth, range, motion, close-up, layers, separation."""
