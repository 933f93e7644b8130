"""Optics: thin lens, depth of field, diffraction, criteria, focus schools and slices."""
