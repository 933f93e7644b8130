"""Reading what came back: which frames pictures are of, what they show, and what to do next time."""
