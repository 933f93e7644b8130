"""Ways in: a starter kit, kinds of picture, the sample valley."""
