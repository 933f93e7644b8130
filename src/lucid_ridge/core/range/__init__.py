"""Range: what the scene spans, what a frame holds, and brackets between them."""
