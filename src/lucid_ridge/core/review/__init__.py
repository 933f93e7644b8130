"""Reading what came back: how frames lie to each other, where each was focused, what is clipped, shaken or off."""
