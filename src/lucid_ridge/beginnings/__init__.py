"""What a newcomer begins with: the usual kit, kinds of picture, and the next good light."""
