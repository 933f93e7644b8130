"""Reports: what the screens show of a state, drawn to numbers between 0 and 1 and worded."""
