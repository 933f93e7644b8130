"""What is asked of a scene, over the API and by `ridge calc` alike, and what a topic is made of."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter

from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.rehearsal.mishaps import Mishap
from lucid_ridge.core.solve import Wish

Changes = Annotated[tuple[Annotated[Change, Field(discriminator="kind")], ...], Field(max_length=200)]


class Request(BaseModel):
    """Base of request models: unknown fields are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class SceneRequest(Request):
    """A scene, and changes to make to it first."""

    scene: Scene
    changes: Changes = ()


class ExplainRequest(SceneRequest):
    """A scene, the key of the number to explain, and the lenses that stand side by side where it is one of theirs."""

    key: Annotated[str, Field(min_length=1, max_length=200)]
    lenses: Annotated[tuple[Lens, ...], Field(max_length=40)] = ()


class SolveRequest(SceneRequest):
    """A scene and a wish of the picture."""

    wish: Annotated[Wish, Field(discriminator="kind")]


class RehearseRequest(SceneRequest):
    """A scene, and what goes wrong in it on purpose."""

    mishaps: Annotated[tuple[Mishap, ...], Field(max_length=6)] = ()


@dataclass(frozen=True)
class Topic:
    """One topic of `ridge calc`."""

    request: type[BaseModel]
    answer: TypeAdapter[Any]
    example: BaseModel
    compute: Callable[[Any], Any]
    about: str
