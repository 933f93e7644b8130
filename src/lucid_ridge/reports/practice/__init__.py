"""Practice in words: what a drill asks, what is right, and why."""
