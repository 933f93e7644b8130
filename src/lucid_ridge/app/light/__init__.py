"""Light ahead: skyline, windows, alignments, calendar and forecast."""
