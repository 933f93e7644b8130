"""Archives: everything that one photographer owns in one file, and such a file taken in beside what is there."""
