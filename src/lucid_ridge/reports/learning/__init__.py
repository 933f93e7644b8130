"""What is learned from one's takes, in words."""
