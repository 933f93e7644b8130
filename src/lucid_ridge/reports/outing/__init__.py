"""What an outing shows: its line of time, what is left out and why, the days side by side, readiness, the note to leave behind."""
