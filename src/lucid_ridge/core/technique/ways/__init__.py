"""Ways: complete techniques that give what is wanted, found by search, none beaten by another."""
