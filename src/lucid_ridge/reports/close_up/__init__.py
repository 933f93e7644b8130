"""Close up: magnification, lenses side by side, stacks, lights."""
