"""What to pack and to charge, out of what the sequences really use; what to look out for; when to turn back."""

from __future__ import annotations

import math
from dataclasses import dataclass
from datetime import date
from typing import Literal

from lucid_ridge.core.model.outing import Outing
from lucid_ridge.core.outing.planning import Put
from lucid_ridge.core.outing.readiness import Demand, Use, cold_share, demand_of, use_of
from lucid_ridge.core.records import record
from lucid_ridge.reports.figures import minutes_text, significant
from lucid_ridge.reports.outing.plan import PlanShown, clock_of
from lucid_ridge.reports.outing.words import Clock, minutes_words, names_words

Group = Literal["forgotten", "camera", "power", "support", "close_up", "person", "own"]
GROUPS: dict[Group, str] = {
    "forgotten": "Forgotten last time",
    "camera": "Camera and lenses",
    "support": "Support and filters",
    "close_up": "Close-up and lights",
    "power": "Batteries and cards",
    "person": "You",
    "own": "Your own lines",
}


@record
class PackLine:
    """A line to tick. ``why`` says for which pictures or out of which figures; ``trouble`` what is lacking."""

    key: str
    name: str
    why: str
    trouble: str
    ticked: bool
    forgotten: bool


@record
class PackGroup:
    """Lines that go together."""

    key: Group
    title: str
    lines: tuple[PackLine, ...]


@record
class Caution:
    """Something that can hurt or close, and where."""

    about: str
    text: str


@record
class ReadinessShown:
    """The list to tick the evening before, cautions, and by when to turn back."""

    groups: tuple[PackGroup, ...]
    ticked: int
    lines: int
    cautions: tuple[Caution, ...]
    standing_caution: str


SPARED = {"flat battery": "spare battery, charged today", "full card": "second card, emptied"}
"""What to pack against faults of the logbook."""

STANDING = (
    "Times on foot are estimates and no way shown is a recommended route. Local rules, tide tables, warnings and the ground "
    "itself decide; ask who knows it, and take a licensed guide where one is asked for."
)


@dataclass(frozen=True)
class PlaceWords:
    """What is noted of a place that can matter on the way."""

    name: str
    hazards: str
    right_of_way: str
    parking: str


def _lines(outing: Outing, put: Put, plan: PlanShown, charge_lasts: float) -> list[tuple[Group, str, str, str, str]]:
    """Group, key, name, why and trouble of every line, before ticks."""
    by_key = {c.visit.id: c for c in put.candidates}
    kept = [by_key[v.visit_id] for d in plan.days for v in d.visits]
    uses = {c.visit.id: use_of(c.state) for c in kept}
    names = {c.visit.id: c.name for c in kept}

    def used(group: Group, pick: str) -> list[tuple[Group, str, str, str, str]]:
        found: dict[str, list[str]] = {}
        for key, use in uses.items():
            value = getattr(use, pick)
            for item in value if isinstance(value, tuple) else [value] if value else []:
                found.setdefault(item, []).append(names[key])
        return [
            (group, f"{pick}/{item}", item, f"for {names_words(list(dict.fromkeys(pictures)))}", "")
            for item, pictures in found.items()
        ]

    made = used("camera", "body") + used("camera", "lens") + used("support", "support") + used("support", "filters")
    made += used("close_up", "gear") + used("close_up", "lights")
    released = [names[k] for k, u in uses.items() if u.release]
    if released:
        made.append(("support", "release", "cable release or remote", f"for {names_words(released)}", ""))
    made += _power(outing, list(uses.values()), charge_lasts)
    made += _person(outing, put, plan)
    made += [("own", f"own/{name}", name, "", "") for name in outing.packing.own_lines]
    return made


def _power(outing: Outing, uses: list[Use], charge_lasts: float) -> list[tuple[Group, str, str, str, str]]:
    made: list[tuple[Group, str, str, str, str]] = []
    demands = demand_of(uses, outing.packing.coldest_c, charge_lasts)
    for one in demands:
        cells = max(math.ceil(one.charges), 1)
        whose = f" for {one.body}" if len(demands) > 1 else ""
        made.append(
            (
                "power",
                f"batteries/{one.body}",
                f"{cells} charged {'battery' if cells == 1 else 'batteries'} and a spare{whose}",
                _charge_words(one, outing.packing.coldest_c, charge_lasts),
                "",
            )
        )
    needed = sum(max(math.ceil(d.charges), 1) for d in demands)
    if demands and needed > outing.packing.batteries:
        key, name = made[0][1], made[0][2]
        made[0] = ("power", key, name, made[0][3], f"you have {outing.packing.batteries}: {needed} are needed")
    if demands:
        room = sum(d.card_mb for d in demands) / 1000
        lacking = f"you have {outing.packing.cards_gb:.0f} GB" if room > outing.packing.cards_gb else ""
        frames = sum(d.frames for d in demands)
        made.append(
            (
                "power",
                "cards",
                f"card with {_room(room)} free",
                f"{frames} frames with half as many again to spare",
                lacking,
            )
        )
    return made


def _room(gigabytes: float) -> str:
    return f"{math.ceil(gigabytes)} GB" if gigabytes >= 1 else "1 GB"


def _charge_words(one: Demand, coldest_c: float, lasts: float) -> str:
    share = cold_share(coldest_c)
    cold = f", {share:.0%} of a charge at {coldest_c:.0f} °C" if share < 0.995 else ""
    held = f", shutter open {minutes_text(one.open_s)}" if one.open_s >= 60 else ""
    own = "" if lasts == 1 else f", your own charge lasts {significant(lasts, 2)} times as long as usual"
    return f"{one.frames} frames{held}{cold}{own}: {one.charges:.1f} charges"


def _person(outing: Outing, put: Put, plan: PlanShown) -> list[tuple[Group, str, str, str, str]]:
    made: list[tuple[Group, str, str, str, str]] = []
    dark = [
        leg for d in plan.days for leg in (*(v.way_there for v in d.visits), d.way_back) if leg is not None and leg.dark
    ]
    night = any(
        b.kind == "night" and v.arrive.position < b.part[1] and v.leave_by.position > b.part[0]
        for d in plan.days
        for v in d.visits
        for b in d.bands
    )
    if dark or night:
        why = f"{len(dark)} {'way' if len(dark) == 1 else 'ways'} by lamp" if dark else "a picture in the dark"
        made.append(("person", "lamp", "head lamp and its spare battery", why, ""))
    if any(c.visit.tide_above_m is not None or c.visit.tide_below_m is not None for c in put.candidates):
        made.append(("person", "tide table", "tide table for the day", "the figures here are harmonic estimates", ""))
    out = max(
        ((d.back.at_utc - d.leave.at_utc).total_seconds() / 3600 for d in plan.days if d.back and d.leave), default=0.0
    )
    if out:
        litres = max(math.ceil(out / 3 * 2) / 2, 0.5)
        made.append(
            (
                "person",
                "water",
                f"{litres:g} l of water and something to eat",
                f"{minutes_words(round(out * 60))} out",
                "",
            )
        )
    cold = outing.packing.coldest_c
    if cold <= 10:
        made.append(("person", "warm", "warm layer, hat and thin gloves", f"down to {cold:.0f} °C, standing still", ""))
    made.append(("person", "wet", "rain cover and a dry cloth", "for you and the front glass", ""))
    made.append(("person", "phone", "charged phone, map on paper", "no network is to be counted on", ""))
    return made


def readiness_shown(
    outing: Outing,
    put: Put,
    plan: PlanShown,
    places: list[PlaceWords],
    forgotten: tuple[str, ...],
    faults: tuple[tuple[str, date], ...] = (),
    charge_lasts: float = 1.0,
) -> ReadinessShown:
    """The list to tick.

    Parameters
    ----------
    outing, put, plan
        The outing, and what of it fits.
    places
        What is noted of the places that are visited.
    forgotten
        Names of lines that were left at home the last time.
    faults
        Faults that the logbook tells of and packing can spare one, each with its last day.
    charge_lasts
        How many times as long as usual a battery's charge lasts the photographer.

    """
    ticks = set(outing.packing.ticked)
    lines = _lines(outing, put, plan, charge_lasts)
    names = {name for _, _, name, _, _ in lines}
    groups: dict[Group, list[PackLine]] = {g: [] for g in GROUPS}
    for name in forgotten:
        if name not in names:
            groups["forgotten"].append(
                PackLine(
                    key=f"again/{name}",
                    name=name,
                    why="left at home last time",
                    trouble="",
                    ticked=f"again/{name}" in ticks,
                    forgotten=True,
                )
            )
    for fault, day in faults:
        name, key = SPARED[fault], f"fault/{fault}"
        why = f"{fault} on {day.day} {day:%b %Y}, by the logbook"
        line = PackLine(key=key, name=name, why=why, trouble="", ticked=key in ticks, forgotten=True)
        groups["forgotten"].append(line)
    for group, key, name, why, trouble in lines:
        again = name in forgotten
        told = f"left at home last time; {why}" if again and why else "left at home last time" if again else why
        line = PackLine(key=key, name=name, why=told, trouble=trouble, ticked=key in ticks, forgotten=again)
        groups["forgotten" if again else group].append(line)
    shown = tuple(PackGroup(key=g, title=title, lines=tuple(groups[g])) for g, title in GROUPS.items() if groups[g])
    every = [line for g in shown for line in g.lines]
    return ReadinessShown(
        groups=shown,
        ticked=sum(line.ticked for line in every),
        lines=len(every),
        cautions=cautions(put, plan, places),
        standing_caution=STANDING,
    )


def cautions(put: Put, plan: PlanShown, places: list[PlaceWords]) -> tuple[Caution, ...]:
    """What can hurt or close: by place, by tide and darkness, by what is not known of the ways."""
    made = []
    visited = {v.place_name for d in plan.days for v in d.visits}
    for place in (p for p in places if p.name in visited or not visited):
        for text in (place.hazards, place.right_of_way):
            if text.strip():
                made.append(Caution(about=place.name, text=text.strip()))
    kept = {v.visit_id for d in plan.days for v in d.visits}
    for candidate, chances in zip(put.candidates, put.chances, strict=True):
        if candidate.visit.id in kept and chances.open_ground is not None:
            made += _closing(candidate.name, chances.open_ground, put, plan, candidate.visit.id)
    for day in plan.days:
        legs = [*(v.way_there for v in day.visits), *([day.way_back] if day.way_back else [])]
        dark = [leg for leg in legs if leg.dark]
        if dark:
            words = "One way is" if len(dark) == 1 else f"{len(dark)} ways are"
            made.append(Caution(about=day.date_text, text=f"{words} walked by lamp; look at it in daylight first."))
        if any("straight" in leg.by for leg in legs):
            made.append(
                Caution(
                    about=day.date_text,
                    text="Of some ways nobody knows what lies between: they are counted straight, with a detour. Draw or import the path.",
                )
            )
    return tuple(dict.fromkeys(made))


def _closing(name: str, spans: tuple[tuple[int, int], ...], put: Put, plan: PlanShown, visit_id: str) -> list[Caution]:
    for day in plan.days:
        for visit in day.visits:
            if visit.visit_id != visit_id:
                continue
            clock: Clock = clock_of(put.outing, day.index, "metric")
            arrive = round(visit.arrive.at_utc.timestamp() / 60)
            for a, b in spans:
                if a <= arrive <= b:
                    return [
                        Caution(
                            about=name,
                            text=f"Its ground is open from {clock.at(a)}; cut off from {clock.at(b)}. Be off it well before.",
                        )
                    ]
    return []
