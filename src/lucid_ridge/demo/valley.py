"""Load the invented valley through the same operations that the interface uses."""

from __future__ import annotations

import tempfile
from dataclasses import dataclass, replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from uuid import UUID

from lucid_ridge.app.compositions import operations as compositions
from lucid_ridge.app.compositions.schemas import CompositionNew
from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.app.field import operations as field
from lucid_ridge.app.field.schemas import SequenceNew
from lucid_ridge.app.kit import operations as kit
from lucid_ridge.app.kit.schemas import BodyItem, FilterItem, GearItem, KitItemNew, LensItem, LightItem, SupportItem
from lucid_ridge.app.logbook import operations as logbook
from lucid_ridge.app.logbook.schemas import Fault, FrameTaken, TakeNew
from lucid_ridge.app.photographs import operations as photographs
from lucid_ridge.app.pictures import operations as pictures
from lucid_ridge.app.places import operations as places
from lucid_ridge.app.places.schemas import PlaceNew
from lucid_ridge.app.terrains import operations as terrains
from lucid_ridge.app.tracks import operations as tracks
from lucid_ridge.app.tracks.schemas import TrackKind, TrackNew, TrackPoint, TrackSort
from lucid_ridge.app.variants import operations as variants
from lucid_ridge.app.variants.schemas import VariantNew
from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.camera_moves import Hold, SetCrop, SetHeight
from lucid_ridge.core.changes.kinds import Change, PutOn, SetBulb, TakeBracket, TakeSlices
from lucid_ridge.core.framing.crop import Crop
from lucid_ridge.core.model.kit import Kit
from lucid_ridge.core.model.scene import Composition, Scene
from lucid_ridge.core.stops.filters import Filter, FilterInUse
from lucid_ridge.demo.compositions import COMPOSITIONS, PLACES
from lucid_ridge.demo.ground import GATE, NOTES, PARKING, walk_in
from lucid_ridge.demo.kit import BODIES, FILTERS, GEAR, LENSES, LIGHTS, SUPPORTS
from lucid_ridge.demo.names import demo_id
from lucid_ridge.demo.outings import load_outings
from lucid_ridge.demo.photograph import reference_photograph
from lucid_ridge.demo.pictures import taken
from lucid_ridge.demo.spots import load_spots
from lucid_ridge.demo.terrain import write_demo_terrain


@dataclass(frozen=True)
class DemoTake:
    """A take: what was changed before it, when, and what came of it."""

    composition: str
    started: datetime
    changes: tuple[Change, ...]
    rating: int | None
    faults: tuple[Fault, ...]
    note: str
    fault_frame: int = 0
    late_factor: float = 1.0


def _morning(day: int, hour: int, minute: int) -> datetime:
    return datetime(2026, 10, day, hour, minute, tzinfo=UTC)


_POL = FilterInUse(filter_id="pol", strength=2 / 3)
WITH_PICTURE = "glass"
"""The composition whose take has a picture from the start."""
TAKES = (
    DemoTake(
        "boathouse", _morning(3, 7, 2), (TakeSlices(mode="gapless"),), 2, ("cloud bank",),
        "Bank on the horizon; the light never reached the boathouse.",
    ),
    DemoTake(
        "boathouse", _morning(10, 7, 20), (TakeSlices(mode="gapless"), TakeBracket(mode="range")), 4, (),
        "Clean stack. Wind fell just after sunrise.",
    ),
    DemoTake(
        "boathouse", _morning(17, 7, 31),
        (PutOn(filters=(_POL, FilterInUse(filter_id="nd6"))), SetBulb(on=True)), 3, ("wind on the reflection",),
        "Gusts broke the reflection in the second half of the exposure.", 1, 0.8,
    ),
    DemoTake("glass", _morning(17, 6, 58), (), 5, (), "Two minutes of flat calm. Keep."),
    DemoTake("stones", _morning(4, 15, 32), (), 3, ("wind blur",), "Bracken smeared, the water is right.", 1),
    DemoTake("stones", _morning(11, 15, 50), (TakeSlices(mode="gapless"),), 1, ("moved camera",), "A leg sank between slices.", 2),
    DemoTake("cotton", _morning(11, 16, 30), (), 4, (), "Sun just behind the heads, rim of light on every tuft."),
    DemoTake("heather", _morning(12, 7, 8), (TakeSlices(mode="gapless"),), 3, ("missed slice",), "Breath on the lens; one slice short.", 3),
    DemoTake("sundew", _morning(12, 9, 15), (), 4, (), "Stack went together without a halo."),
)  # fmt: skip


def _load_kit() -> None:
    for name, body in BODIES.items():
        kit.add(KitItemNew(id=demo_id(f"body/{name}"), item=BodyItem(kind="body", details=body)))
    for name, lens in LENSES.items():
        kit.add(KitItemNew(id=demo_id(f"lens/{name}"), item=LensItem(kind="lens", details=lens)))
    for name, support in SUPPORTS.items():
        kit.add(KitItemNew(id=demo_id(f"support/{name}"), item=SupportItem(kind="support", details=support)))
    for name, owned in FILTERS.items():
        kit.add(KitItemNew(id=demo_id(f"filter/{name}"), item=FilterItem(kind="filter", details=owned)))
    for name, gear in GEAR.items():
        kit.add(KitItemNew(id=demo_id(f"gear/{name}"), item=GearItem(kind="gear", details=gear)))
    for name, light in LIGHTS.items():
        kit.add(KitItemNew(id=demo_id(f"light/{name}"), item=LightItem(kind="light", details=light)))


def _with_saved_ids(composition: Composition) -> Composition:
    """Filters, gear and lights by the ids they were saved under."""
    uses = tuple(
        replace(use, filter_id=str(demo_id(f"filter/{use.filter_id}"))) for use in composition.settings.filters
    )
    close_up = replace(
        composition.close_up,
        mounted=tuple(
            replace(one, gear_id=str(demo_id(f"gear/{one.gear_id}"))) for one in composition.close_up.mounted
        ),
        lights=tuple(
            replace(one, light_id=str(demo_id(f"light/{one.light_id}"))) for one in composition.close_up.lights
        ),
    )
    return replace(composition, settings=replace(composition.settings, filters=uses), close_up=close_up)


def _scene(name: str, composition: Composition) -> Scene:
    chosen = COMPOSITIONS[name]
    owned: tuple[Filter, ...] = tuple(replace(f, id=str(demo_id(f"filter/{f.id}"))) for f in FILTERS.values())
    kit_in_use = Kit(
        body=BODIES[chosen.body],
        lens=LENSES[chosen.lens],
        support=SUPPORTS[chosen.support],
        filters=owned,
        gear=tuple(replace(g, id=str(demo_id(f"gear/{g.id}"))) for g in GEAR.values()),
        lights=tuple(replace(one, id=str(demo_id(f"light/{one.id}"))) for one in LIGHTS.values()),
    )
    return Scene(place=PLACES[chosen.place], kit=kit_in_use, composition=_with_saved_ids(composition))


def scene_of(name: str) -> Scene:
    """The scene of one of the demo's compositions, without a database."""
    return _scene(name, COMPOSITIONS[name].composition)


def scene_of_take(take: DemoTake) -> Scene:
    """What a take was set to."""
    composition = replace(COMPOSITIONS[take.composition].composition, moment_utc=take.started)
    scene = _scene(take.composition, composition)
    plain = apply_changes(replace(scene, composition=composition), take.changes)
    return replace(scene, composition=_with_saved_ids(plain.composition))


def _load_take(number: int, take: DemoTake, with_picture: bool) -> None:
    scene = scene_of_take(take)
    made, _ = field.make(
        SequenceNew(
            id=demo_id(f"sequence/{number}"),
            composition_id=demo_id(f"composition/{take.composition}"),
            scene=scene,
        )
    )
    clock = take.started
    frames = []
    for planned in made.plan.sequence.frames:
        at_fault = planned.number == take.fault_frame and bool(take.faults)
        frames.append(
            FrameTaken(
                number=planned.number,
                status="done",
                started_at=clock,
                exposed_s=planned.exposure_s * (take.late_factor if at_fault else 1.0),
                fault=take.faults[0] if at_fault else None,
            )
        )
        clock += timedelta(seconds=round(planned.duration_s * 1.3))
    if with_picture:
        shown, data = next(taken(scene, take.started, longest_px=1000, terrain=terrains.terrain_of(scene.place)))
        pictures.keep(
            demo_id(f"picture/{number}"),
            f"{take.composition}.jpg",
            data,
            pictures.Frame(made.id, shown, demo_id(f"take/{number}")),
        )
    logbook.record(
        demo_id(f"take/{number}"),
        TakeNew(
            sequence_id=made.id,
            started_at=take.started,
            ended_at=clock,
            frames=frames,
            faults=list(take.faults),
            rating=take.rating,
            note=take.note,
        ),
    )


def load_valley(database_url: str, files_folder: Path | None = None) -> None:
    """Kit, places, compositions, takes and outings."""
    app = create_app(Configuration(database_url, files_folder))
    try:
        with app.app_context():
            _load_kit()
            if files_folder is not None:
                _load_terrain()
            _load_places_and_compositions(with_terrain=files_folder is not None)
            _load_tracks()
            _load_variants()
            if files_folder is not None:
                _load_photograph()
            for number, take in enumerate(TAKES, start=1):
                _load_take(number, take, files_folder is not None and take.composition == WITH_PICTURE)
            load_outings()
            load_spots()
    finally:
        app.extensions["database"].dispose()


VARIANTS: dict[str, tuple[tuple[str, tuple[Change, ...]], ...]] = {
    "stones": (
        ("portrait, as found", ()),
        ("landscape and lower", (Hold(orientation="landscape"), SetHeight(camera_height_m=0.55))),
        ("square, over the stones", (SetCrop(crop=Crop(aspect=1.0, offset_y=0.6)),)),
    ),
}
"""Kept tries, by composition: name and the changes that lead to it."""


def _load_variants() -> None:
    for name, tries in VARIANTS.items():
        made = COMPOSITIONS[name]
        for number, (title, changes) in enumerate(tries, start=1):
            composition = apply_changes(_scene(name, made.composition), changes).composition
            variants.keep(
                demo_id(f"composition/{name}"),
                VariantNew(
                    id=demo_id(f"variant/{name}/{number}"),
                    name=title,
                    body_id=demo_id(f"body/{made.body}"),
                    lens_id=demo_id(f"lens/{made.lens}"),
                    support_id=demo_id(f"support/{made.support}"),
                    composition=composition,
                ),
            )


def _load_terrain() -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "valley.tif"
        write_demo_terrain(path)
        terrains.add_now(demo_id("terrain/valley"), "Hollin valley", path)


TRACKS = 3


def _load_tracks() -> None:
    tarn, beck = demo_id("place/tarn"), demo_id("place/beck")
    known: tuple[tuple[UUID, str, TrackKind, TrackSort, list[TrackPoint]], ...] = (
        (tarn, "Path from the lay-by", "path", "walk_in", walk_in()),
        (tarn, "Lay-by at the dam", "mark", "parking", [(*PARKING, None)]),
        (beck, "Gate below the fold", "mark", "gate", [(*GATE, None)]),
    )
    for number, (place_id, name, kind, sort, points) in enumerate(known):
        # Built without a request: the records come from here and not from JSON.
        tracks.add(
            TrackNew.model_construct(
                id=demo_id(f"track/{number}"),
                place_id=place_id,
                name=name,
                kind=kind,
                sort=sort,
                note="",
                points=points,
            )
        )


def _load_photograph() -> None:
    data = reference_photograph(_scene("mirror", COMPOSITIONS["mirror"].composition))
    photographs.attach(demo_id("composition/mirror"), demo_id("photograph/mirror"), "tarn from the shore.jpg", data)


def _load_places_and_compositions(with_terrain: bool) -> None:
    for name, place in PLACES.items():
        # Without a folder for files there is no terrain; a level horizon stands in for it.
        kept = place if with_terrain or place.terrain_id is None else replace(place, terrain_id=None, horizon="flat")
        places.add(PlaceNew(id=demo_id(f"place/{name}"), place=kept, **NOTES[name].model_dump()))
    for name, made in COMPOSITIONS.items():
        compositions.add(
            CompositionNew(
                id=demo_id(f"composition/{name}"),
                name=made.name,
                place_id=demo_id(f"place/{made.place}"),
                body_id=demo_id(f"body/{made.body}"),
                lens_id=demo_id(f"lens/{made.lens}"),
                support_id=demo_id(f"support/{made.support}"),
                composition=_with_saved_ids(made.composition),
            )
        )
