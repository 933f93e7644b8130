"""Takes: sequences as they were carried out."""
