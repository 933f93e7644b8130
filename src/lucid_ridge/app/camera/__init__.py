"""The camera that can be told to take a sequence's frames."""
