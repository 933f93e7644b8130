"""What a rehearsal shows: captions of its frames, histograms to draw, and what is invented, in words."""
