"""What is worked out before leaving for questions that come up on the spot, where nothing can be computed."""
