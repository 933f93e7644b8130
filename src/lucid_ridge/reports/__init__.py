"""What a screen, a card or `ridge calc` shows: a folder for each bench."""
