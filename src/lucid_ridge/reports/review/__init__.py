"""What pictures show, in words, and what to do next time."""
