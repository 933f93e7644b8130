"""Shared by all tests: one throwaway cluster a run, made when first asked for."""

from __future__ import annotations

import os
from collections.abc import Iterator

import pytest
from hypothesis import settings

from .cluster import Databases, throwaway_databases

# The same examples every time, so that a run says something about the change that was made. To look for new
# ones: HYPOTHESIS_PROFILE=explore pytest tests/core.
settings.register_profile("same", deadline=None, derandomize=True)
settings.register_profile("explore", deadline=None)
settings.load_profile(os.environ.get("HYPOTHESIS_PROFILE", "same"))


@pytest.fixture(scope="session")
def databases() -> Iterator[Databases]:
    with throwaway_databases() as made:
        yield made
