"""The light that is wanted: windows in a day and a year, alignments."""
