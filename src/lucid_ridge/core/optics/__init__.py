"""Optics: thin lens, depth of field, diffraction, circles of confusion, focus schools and slices."""
