"""Shared by all tests: one throwaway cluster a run, made when first asked for."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from hypothesis import settings

from .cluster import Databases, throwaway_databases

settings.register_profile("default", deadline=None)
settings.load_profile("default")


@pytest.fixture(scope="session")
def databases() -> Iterator[Databases]:
    with throwaway_databases() as made:
        yield made
