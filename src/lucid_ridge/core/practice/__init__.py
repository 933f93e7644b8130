"""Practice: short drills drawn from a photographer's own compositions, with answers that can be judged."""
