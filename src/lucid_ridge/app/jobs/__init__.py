"""Jobs: work that goes on in the background, in a process of its own, and survives its end."""
