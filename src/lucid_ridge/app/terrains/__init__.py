"""Terrain models."""
