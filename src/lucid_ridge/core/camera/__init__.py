"""The camera in the scene: the mounted lens, geometry, panels, reach, keep-out lines, what is critical."""
