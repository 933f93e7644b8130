"""Why not otherwise: what a proposed technique breaks, and by how much."""

from __future__ import annotations

from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.levers import after
from lucid_ridge.core.ways.choose import find_wanted
from lucid_ridge.core.ways.search import COSTS
from lucid_ridge.reports.figures import Readout
from lucid_ridge.reports.tensions.words import said
from lucid_ridge.reports.ways.report import ways
from lucid_ridge.reports.ways.way import Way, cost_of, make_way, settings_text, technique_text


@record
class Broken:
    """A want that a proposal breaks, and by how much."""

    title: str
    sentence: str
    figure: Readout


@record
class WhyNot:
    """What a proposed technique would break; nothing broken means that it is a way like the others."""

    settings_text: str
    technique_text: str
    verdict: str
    broken: tuple[Broken, ...]
    beaten_by: str
    way: Way
    changes: tuple[Change, ...]


def why_not(state: State, changes: tuple[Change, ...]) -> WhyNot:
    """What a proposed technique breaks, and by how much; if nothing, which way beats it."""
    made = after(state, changes)
    found = find_wanted(made)
    proposal = make_way(state, made, changes, "proposal", (), found)
    report = ways(state)
    beaten = ""
    if not found and report.found:
        better = [
            w
            for w in report.ways
            if all(cost_of(w, c) <= cost_of(proposal, c) * (1 + 1e-9) for c in COSTS)
            and any(cost_of(w, c) < cost_of(proposal, c) * 0.999 for c in COSTS)
        ]
        beaten = f"“{better[0].name}” does as well in everything and better in something." if better else ""
    verdict = (
        f"It breaks {len(found)} of your wants." if len(found) > 1
        else "It breaks one of your wants." if found
        else "It gives all that you want." + ("" if beaten else " No way shown beats it.")
    )  # fmt: skip
    return WhyNot(
        settings_text=settings_text(made),
        technique_text=technique_text(made),
        verdict=verdict,
        broken=tuple(
            Broken(title=one.title, sentence=one.sentence, figure=one.figure) for one in (said(made, f) for f in found)
        ),
        beaten_by=beaten,
        way=proposal,
        changes=changes,
    )
