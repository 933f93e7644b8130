"""The Frame bench: view, plan, section, panorama, other takes."""
