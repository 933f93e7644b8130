"""What all topics are made of."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.model.scene import Scene


class Request(BaseModel):
    """Base of request models: unknown fields are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class SceneRequest(Request):
    """A scene, and changes to make to it first."""

    scene: Scene
    changes: Annotated[tuple[Annotated[Change, Field(discriminator="kind")], ...], Field(max_length=200)] = ()


@dataclass(frozen=True)
class Topic:
    """One topic of `ridge calc`."""

    request: type[BaseModel]
    answer: TypeAdapter[Any]
    example: BaseModel
    compute: Callable[[Any], Any]
    about: str
