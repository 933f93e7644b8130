"""Requests and responses of outings."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal
from uuid import UUID

from pydantic import AwareDatetime, BaseModel, Field

from lucid_ridge.app.bodies import JsonBody
from lucid_ridge.app.field.schemas import SequenceOut
from lucid_ridge.core.model.outing import Outing
from lucid_ridge.core.model.scene import Units
from lucid_ridge.reports.outing.plan import PlanShown
from lucid_ridge.reports.outing.readiness import ReadinessShown
from lucid_ridge.reports.outing.weather import DatesShown, GoOrStay, InsteadShown

OutingName = Annotated[str, Field(min_length=1, max_length=80, pattern="^[^\\x00]*$")]
FileForm = Literal["pdf", "note.txt", "ics", "gpx", "json"]


class OutingNew(JsonBody):
    """An outing to add; ``id`` may be chosen by the client."""

    id: UUID | None = None
    name: OutingName
    outing: Outing


class OutingChange(JsonBody):
    """An outing as changed, and the version that was changed."""

    version: Annotated[int, Field(ge=1)]
    name: OutingName
    outing: Outing


class OutingOut(BaseModel):
    """An outing as saved."""

    id: UUID
    version: int
    updated_at: datetime
    name: str
    outing: Outing


class OutingBrief(BaseModel):
    """An outing in a list. ``when_text`` says its days, ``away_text`` how far ahead it is; ``over`` once it is."""

    id: UUID
    name: str
    leaves_at: datetime
    when_text: str
    away_text: str
    visits: int
    over: bool


class OutingsOut(BaseModel):
    """Outings, those to come first and the nearest of them at the top; then those that are over, the latest first."""

    outings: list[OutingBrief]


class UnitsBody(JsonBody):
    """In which units distances are told."""

    units: Units = "metric"


class PlanBody(UnitsBody):
    """An outing as it stands on the screen. With ``now`` it is planned from then on, what is done left out."""

    outing: Outing
    now: AwareDatetime | None = None


class DatesBody(UnitsBody):
    """An outing, and on which dates it is tried."""

    outing: Outing
    first: date
    count: Annotated[int, Field(ge=1, le=14)] = 7


class OutingPlanOut(BaseModel):
    """The plan, whether to go, what to pack; ``gone`` names visits whose composition is no longer there or cannot be computed, with why."""

    plan: PlanShown
    weather: GoOrStay
    readiness: ReadinessShown
    gone: list[str]


class DatesOut(BaseModel):
    """The outing on several dates."""

    dates: DatesShown


class InsteadOut(BaseModel):
    """Compositions near by whose light is likely within the days of the outing."""

    found: list[InsteadShown]
    looked_at: int


class UsualVisitOut(BaseModel):
    """What a visit is given that is added; ``set_up_text`` says whether setting up takes the usual time or one's own."""

    set_up_min: int
    set_up_text: str
    margin_min: int


class NextOut(BaseModel):
    """The next outing, or the one that one is on, with its first lines; None where there is none."""

    id: UUID | None
    name: str
    heading: str
    when_text: str
    leave_at: datetime | None
    next_text: str
    next_at: datetime | None


class AlongSequence(BaseModel):
    """The sequence of a visit to take along, planned for when the visit has its first frame; ``lacking`` says why there is none."""

    visit_id: str
    name: str
    sequence: SequenceOut | None
    lacking: str


class AlongOut(BaseModel):
    """An outing as it is taken along: as saved, its plan, the sequences of its visits, and the note to leave."""

    outing: OutingOut
    plan: OutingPlanOut
    sequences: list[AlongSequence]
    note: str
    ground: list[str]
    """Addresses of the pictures of the ground about it."""


class LateBody(UnitsBody):
    """An outing as it stands, and the picture that one may leave late; None asks about setting out late."""

    outing: Outing
    visit_id: Annotated[str, Field(max_length=64)] | None = None
    now: AwareDatetime | None = None


class Later(BaseModel):
    """The plan when one leaves so many minutes later than planned."""

    minutes: int
    leaves_at: datetime
    plan: PlanShown


class LateOut(BaseModel):
    """What becomes of an outing that runs late at one picture, for more and more minutes."""

    visit_id: str | None
    later: list[Later]


class FilePath(BaseModel):
    """An outing and the form it is written in."""

    id: UUID
    form: FileForm


class FileQuery(BaseModel):
    """In which units distances are told."""

    units: Units = "metric"
