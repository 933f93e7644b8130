"""Framing: the camera in the landscape, projection, silhouettes and crop."""
