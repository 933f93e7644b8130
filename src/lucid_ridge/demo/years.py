"""Two years in the demo valley: takes with pictures as the simulated camera took them, and what went wrong in some.

Everything follows from one seed. How good a take became hangs on the light, on what went wrong, and for water in motion on how
near the shutter time came to what this made-up photographer likes best, so that there is something to be found in it.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from typing import Literal
from uuid import UUID

import numpy as np

from lucid_ridge.app.database import LOCAL_PHOTOGRAPHER, Database
from lucid_ridge.app.editing import database
from lucid_ridge.app.field import operations as field
from lucid_ridge.app.field.schemas import SequenceNew
from lucid_ridge.app.jobs.running import Running
from lucid_ridge.app.jobs.tables import JobRow
from lucid_ridge.app.logbook import operations as logbook
from lucid_ridge.app.logbook.schemas import Fault, FrameTaken, TakeNew
from lucid_ridge.app.logbook.tables import Take
from lucid_ridge.app.pictures import operations as pictures
from lucid_ridge.app.pictures.schemas import PictureJudged
from lucid_ridge.app.review.looking import look_at
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.kinds import Change, Nudge, SetCompensation, TakeSlices
from lucid_ridge.core.light.day import EventName, light_day
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.place import Place
from lucid_ridge.core.model.scene import Scene
from lucid_ridge.core.rehearsal.mishaps import USUAL_SIZE, Mishap, MishapKind, possible
from lucid_ridge.core.rehearsal.shots import levels_of, shots_of
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.demo.compositions import PLACES
from lucid_ridge.demo.names import demo_id
from lucid_ridge.demo.pictures import taken
from lucid_ridge.demo.valley import TAKES as LATEST
from lucid_ridge.demo.valley import WITH_PICTURE, scene_of, scene_of_take

JOB = "demo"
TAKES = 150
MOST_FRAMES = 40
"""More frames than any of these takes has."""
LONGEST_PX = 800
SETS_UP_MIN = 14.0
"""How long this photographer sets up, half of the times longer."""
BEST_WATER_S = 0.4
"""The shutter time at which this photographer likes running water best."""
_BEGINS, _DAYS = datetime(2024, 10, 20, tzinfo=UTC), 715
_SEED = 11
_BRIGHTEST_STOPS = 1.6
"""Over a mid-tone: so much is left for what is brighter within a sky."""


@dataclass(frozen=True)
class _Habit:
    """When something is photographed: about which of the day's events, in which months; and what is tried."""

    composition: str
    event: EventName
    months: frozenset[int]
    weight: float
    tries: tuple[tuple[Change, ...], ...]


def _months(*which: int) -> frozenset[int]:
    return frozenset(which)


_ALL_YEAR = frozenset(range(1, 13))
_STEPS: tuple[tuple[Change, ...], ...] = tuple(
    (Nudge(setting="shutter", steps=k),) for k in (-6, -3, -2, 0, 0, 1, 3, 5)
)
_GAPLESS: tuple[Change, ...] = (TakeSlices(mode="gapless"),)
_HABITS = (
    _Habit("stones", "golden_evening", _ALL_YEAR, 2.0, _STEPS),
    _Habit(
        "boathouse",
        "golden_morning_end",
        _months(1, 2, 3, 9, 10, 11, 12),
        3.0,
        tuple((*_GAPLESS, *one) for one in _STEPS),
    ),
    _Habit("glass", "sunrise", _months(2, 3, 4, 8, 9, 10, 11), 2.0, ((), (Nudge(setting="shutter", steps=-3),))),
    _Habit("mirror", "golden_morning_end", _months(4, 5, 6, 7, 8, 9), 1.5, ((),)),
    _Habit("mooring", "blue_morning_end", _months(3, 4, 5, 9, 10), 1.0, ((),)),
    _Habit("creek", "golden_evening_end", _months(5, 6, 7, 8, 9), 1.0, ((),)),
    _Habit("cotton", "golden_evening", _months(6, 7, 8), 2.0, ((), _GAPLESS)),
    _Habit("heather", "golden_morning_end", _months(1, 2, 11, 12), 1.0, ((), _GAPLESS)),
    _Habit("sundew", "golden_morning_end", _months(6, 7, 8), 0.3, ((),)),
    _Habit("valley", "golden_evening", _months(5, 6, 9, 10), 0.4, ((),)),
)
_FAULTS: dict[MishapKind, Fault] = {
    "camera_moved": "moved camera", "sinking": "moved camera", "shake": "shake", "gust": "wind blur",
    "focus_off": "focus missed", "missed_slice": "missed slice", "stale_exposure": "late for the light",
    "forgotten_polariser": "filter forgotten off", "clipped_red": "clipped channel",
}  # fmt: skip
_NOTES: dict[Fault, tuple[str, ...]] = {
    "moved camera": ("A leg sank in the wet moss.", "Knocked it while turning the ring."),
    "shake": ("Held my breath, still not enough.", "Wind on the strap."),
    "wind blur": ("A gust in the wrong second.", "Waited ten minutes for a lull, went too early."),
    "focus missed": ("Focused on the wrong stalk.", "Ring slipped after the test frame."),
    "missed slice": ("Lost count of the slices.",),
    "late for the light": ("Ten minutes late, the light had dropped.", "Metered before the cloud came."),
    "filter forgotten off": ("Polariser was still in the bag.",),
    "clipped channel": ("Did not look at the red channel.",),
    "cloud bank": ("A bank on the horizon ate it.", "Grey to the last."),
}
_PLAIN = (
    "Quiet, nobody about.", "Low sun just long enough.", "Worth coming back for.", "Clean sequence.", "Cold fingers, good light.",
    "Colours better than last time.", "Try it a step lower next time.", "Water was high.", "", "", "",
)  # fmt: skip


@dataclass(frozen=True)
class PastTake:
    """A take of these years: its number, the scene as it was set, when, what went wrong, how it is rated."""

    number: int
    composition: str
    scene: Scene
    started: datetime
    mishaps: tuple[Mishap, ...]
    faults: tuple[Fault, ...]
    rating: int | None
    note: str
    arrived: datetime | None = None

    @property
    def id(self) -> UUID:
        """Of the take."""
        return demo_id(f"past take/{self.number}")

    def picture_id(self, frame: int) -> UUID:
        """Of the picture of one of its frames."""
        return demo_id(f"past picture/{self.number}/{frame}")


def past_ids() -> tuple[set[UUID], set[UUID]]:
    """The ids that these takes and their pictures may have."""
    return (
        {demo_id(f"past take/{n}") for n in range(1, TAKES + 1)},
        {
            demo_id(f"past picture/{n}/{k}")
            for n in range(1, TAKES + len(LATEST) + 1)
            for k in range(1, MOST_FRAMES + 1)
        },
    )


def _event(scene: Scene, day: datetime, event: EventName) -> datetime | None:
    place = scene.place
    found = light_day(place.latitude_deg, place.longitude_deg, day.timestamp(), day.timestamp() + 86400).events
    at = next((unix for unix, name in found if name == event), None)
    return None if at is None else datetime.fromtimestamp(at, UTC)


def _with_sky_held(scene: Scene, terrain: Terrain | None) -> Scene:
    """Exposed so that the sky is held, as somebody does who looks at the histogram after the first frame."""
    state = build_state(scene, terrain=terrain)
    levels = levels_of(state, shots_of(state)[0])
    over = max([levels.sky, *levels.elements]) - _BRIGHTEST_STOPS
    if over <= 0:
        return scene
    settings = scene.composition.settings
    darker = settings.compensation_stops - math.ceil(over * 3) / 3
    return apply_changes(scene, (SetCompensation(stops=max(darker, -5.0)),))


def _mishap(rng: np.random.Generator, state: State) -> Mishap | None:
    planned = shots_of(state)
    kinds = possible(state, planned)
    if rng.random() > 0.3 or not kinds:
        return None
    kind = kinds[int(rng.integers(len(kinds)))]
    late = kind in ("camera_moved", "missed_slice") and len(planned) > 2
    frame = int(rng.integers(2, len(planned))) if late else 1
    return Mishap(kind=kind, frame=frame, size=USUAL_SIZE[kind] * (1.4 if kind == "stale_exposure" else 1.0))


def _rating(rng: np.random.Generator, state: State, faults: tuple[Fault, ...], calm: float) -> int | None:
    if rng.random() < 0.12:
        return None
    good = 3.4 + calm + rng.normal(0, 0.5) - 1.6 * len(faults)
    if state.scene.composition.wants.water_look == "texture":
        good += 0.9 - 1.1 * abs(math.log2(state.exposure.settings.shutter_s / BEST_WATER_S))
    return int(np.clip(round(good), 1, 5))


def _chosen(rng: np.random.Generator, month: int) -> _Habit:
    open_ones = [one for one in _HABITS if month in one.months]
    weights = np.array([one.weight for one in open_ones])
    return open_ones[int(rng.choice(len(open_ones), p=weights / weights.sum()))]


def past_takes(terrain_at: Callable[[Place], Terrain | None] = lambda place: None) -> Iterator[PastTake]:
    """The takes of two years, oldest first; *terrain_at* gives the terrain of a place, where it is at hand."""
    rng, habit_rng = np.random.default_rng(_SEED), np.random.default_rng(_SEED + 1)
    days = np.sort(rng.integers(0, _DAYS, TAKES))
    for number, day in enumerate(days, start=1):
        date = _BEGINS + timedelta(days=int(day))
        habit = _chosen(rng, date.month)
        scene = scene_of(habit.composition)
        at = _event(scene, date, habit.event) or date + timedelta(hours=12)
        started = (at + timedelta(minutes=float(rng.normal(0, 8)))).replace(microsecond=0)
        scene = replace(scene, composition=replace(scene.composition, moment_utc=started))
        terrain = terrain_at(scene.place)
        scene = _with_sky_held(apply_changes(scene, habit.tries[int(rng.integers(len(habit.tries)))]), terrain)
        state = build_state(scene, terrain=terrain)
        mishap = _mishap(rng, state)
        faults: tuple[Fault, ...] = () if mishap is None else (_FAULTS[mishap.kind],)
        if mishap is None and rng.random() < 0.1:
            faults = ("cloud bank",)
        rating = _rating(rng, state, faults, float(rng.normal(0.2, 0.4)))
        notes = _NOTES[faults[0]] if faults else _PLAIN
        note = notes[int(rng.integers(len(notes)))]
        # Nobody always says when they arrive.
        set_up = timedelta(minutes=SETS_UP_MIN * 2 ** float(habit_rng.normal(0, 0.4)))
        arrived = (started - set_up).replace(microsecond=0) if habit_rng.random() < 0.6 else None
        # What went wrong is not always noticed at once.
        noticed = faults if rng.random() < 0.75 else ()
        yield PastTake(
            number,
            habit.composition,
            scene,
            started,
            () if mishap is None else (mishap,),
            noticed,
            rating,
            note,
            arrived,
        )


def _bring(scene: Scene, take_id: UUID, sequence_id: UUID, past: PastTake) -> None:
    """The pictures of a take, as the camera gives them, and how good they are."""
    for number, data in taken(scene, past.started, past.mishaps, LONGEST_PX, past.number, terrain_of(scene.place)):
        name = f"{past.composition}-{past.number:03d}-{number:02d}.jpg"
        picture, _ = pictures.keep(past.picture_id(number), name, data, pictures.Frame(sequence_id, number, take_id))
        if past.rating is not None and picture.rating is None:
            verdict: Literal["keep", "reject"] | None = (
                "keep" if past.rating >= 4 else "reject" if past.rating <= 1 else None
            )
            rating = past.rating if number == 1 else None
            pictures.judge(picture.id, PictureJudged(version=picture.version, rating=rating, verdict=verdict))


def _record(past: PastTake) -> None:
    """Write a take with its pictures, as the field screen and the camera would."""
    made, _ = field.make(
        SequenceNew(
            id=demo_id(f"past sequence/{past.number}"),
            composition_id=demo_id(f"composition/{past.composition}"),
            scene=past.scene,
        )
    )
    clock, frames = past.started, []
    for planned in made.plan.sequence.frames:
        frames.append(FrameTaken(number=planned.number, status="done", started_at=clock, exposed_s=planned.exposure_s))
        clock += timedelta(seconds=round(planned.duration_s * 1.2))
    _bring(past.scene, past.id, made.id, past)
    logbook.record(
        past.id,
        TakeNew(
            sequence_id=made.id,
            arrived_at=past.arrived,
            started_at=past.started,
            ended_at=clock,
            frames=frames,
            faults=list(past.faults),
            rating=past.rating,
            note=past.note,
        ),
    )


_SHOWN: dict[Fault, MishapKind] = {
    "wind blur": "gust",
    "moved camera": "camera_moved",
    "missed slice": "missed_slice",
    "late for the light": "stale_exposure",
}


def _bring_latest() -> None:
    """Pictures of the valley's own takes, which were there from the start."""
    for number, take in enumerate(LATEST, start=1):
        take_id = demo_id(f"take/{number}")
        if take.composition == WITH_PICTURE:
            continue
        scene = scene_of_take(take)
        state = build_state(scene, terrain=terrain_of(scene.place))
        kinds = possible(state, shots_of(state))
        shown = [_SHOWN[fault] for fault in take.faults if _SHOWN.get(fault) in kinds]
        mishaps = tuple(Mishap(kind=kind, frame=max(take.fault_frame, 1), size=USUAL_SIZE[kind]) for kind in shown)
        past = PastTake(
            TAKES + number, take.composition, scene, take.started, mishaps, take.faults, take.rating, take.note
        )
        _bring(scene, take_id, demo_id(f"sequence/{number}"), past)
        look_at(take_id)


def draw_past(job: Running) -> None:
    """Draw these years and look at what they show; what was there when it was cut off is not made again."""
    drawn = 0
    job.tell("drawing pictures of the latest takes", 0, TAKES)
    _bring_latest()
    for past in past_takes(terrain_of):
        job.tell("drawing pictures of two years", past.number - 1, TAKES)
        with database().transaction() as session:
            if session.get(Take, past.id) is not None:
                continue
        _record(past)
        look_at(past.id)
        drawn += 1
    with database().transaction() as session:
        job.finish(session, {"text": f"{drawn} takes with pictures are in the logbook."})


def note_past(database_url: str) -> None:
    """Have these years drawn in the background: the worker finds it waiting."""
    own = Database(database_url)
    try:
        with own.transaction() as session:
            session.add(
                JobRow(
                    owner_id=LOCAL_PHOTOGRAPHER, kind=JOB, name=f"Two years around {PLACES['tarn'].name}", arguments={}
                )
            )
    finally:
        own.dispose()
