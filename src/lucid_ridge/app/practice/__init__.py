"""Practice: drills from one's own compositions, and what one has learned of them."""
