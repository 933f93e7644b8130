"""Scenes for the core's tests."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.model.scene import Scene


@pytest.fixture
def tarn() -> Scene:
    """The worked example: a tarn with a boathouse an hour after sunrise."""
    return TARN_SCENE


def changed(scene: Scene, **parts: Any) -> Scene:
    """The scene with fields of its composition, settings, wants or technique replaced."""
    composition = scene.composition
    for name in ("settings", "wants", "technique"):
        if name in parts:
            composition = replace(composition, **{name: replace(getattr(composition, name), **parts.pop(name))})
    return replace(scene, composition=replace(composition, **parts))
