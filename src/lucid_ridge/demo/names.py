"""Identifiers of demo records, the same every time."""

from __future__ import annotations

from uuid import NAMESPACE_URL, UUID, uuid5


def demo_id(name: str) -> UUID:
    """The identifier of a demo record."""
    return uuid5(NAMESPACE_URL, f"lucid-ridge-demo/{name}")
