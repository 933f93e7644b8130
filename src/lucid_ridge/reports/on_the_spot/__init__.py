"""What is taken along for questions on the spot: answers computed beforehand, in words."""
