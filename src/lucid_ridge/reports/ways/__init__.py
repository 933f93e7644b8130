"""The Ways bench."""
