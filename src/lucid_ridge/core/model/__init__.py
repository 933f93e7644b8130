"""The records of a scene: place, kit and gear, composition, elements, wants, technique."""
