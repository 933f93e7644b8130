"""The simulated camera: what each frame of a sequence will look like, and what comes of merging them.

It draws the scene's own numbers. Texture, colour and the roundness of solids are invented.
"""
