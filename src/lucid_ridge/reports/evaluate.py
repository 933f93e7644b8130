"""One call from a scene to everything the workbench shows."""

from __future__ import annotations

from collections.abc import Iterable

from lucid_ridge.core.changes.apply import apply_changes
from lucid_ridge.core.changes.check import check_scene
from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.scene import Composition, Scene
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State, build_state
from lucid_ridge.reports.depth.report import DepthReport, depth_report
from lucid_ridge.reports.exposure.report import (
    LedgerReport,
    MotionReport,
    SettingSummary,
    ledger_report,
    motion_report,
    setting_summaries,
)
from lucid_ridge.reports.exposure.tonal_range import RangeReport, range_report
from lucid_ridge.reports.frame.panorama import PanoramaReport, panorama_report
from lucid_ridge.reports.frame.plan import PlanReport, plan_report
from lucid_ridge.reports.frame.section import SectionReport, section_report
from lucid_ridge.reports.frame.separation import Merger, separation
from lucid_ridge.reports.frame.view import FramingReport, framing_report
from lucid_ridge.reports.light.report import LightReport, light_report
from lucid_ridge.reports.sequence.build import build_sequence
from lucid_ridge.reports.sequence.frames import Sequence
from lucid_ridge.reports.tensions.report import Tension, tensions


@record
class Evaluation:
    """The whole evaluation of one composition at one moment.

    ``composition`` is the one asked about after the changes and with the account closed: its
    shutter, or ISO, is the one that follows.
    """

    composition: Composition
    setting_summaries: tuple[SettingSummary, ...]
    framing: FramingReport
    separation: tuple[Merger, ...]
    plan: PlanReport
    section: SectionReport
    panorama: PanoramaReport | None
    light: LightReport
    depth: DepthReport
    ledger: LedgerReport
    range: RangeReport
    motion: MotionReport
    sequence: Sequence
    tensions: tuple[Tension, ...]


def changed_state(scene: Scene, changes: Iterable[Change] = (), terrain: Terrain | None = None) -> State:
    """Apply changes to a scene, check it and work out its state. *terrain* is the place's, where it has one.

    Raises
    ------
    SceneError
        If the changed scene cannot be computed; names every field at fault.

    """
    scene = apply_changes(scene, changes)
    check_scene(scene)
    return build_state(scene, terrain=terrain)


def evaluate(scene: Scene, changes: Iterable[Change] = (), terrain: Terrain | None = None) -> Evaluation:
    """Evaluate a scene after changes; see `changed_state` for errors."""
    state = changed_state(scene, changes, terrain)
    return Evaluation(
        composition=state.scene.composition,
        setting_summaries=setting_summaries(state),
        framing=framing_report(state),
        separation=separation(state),
        plan=plan_report(state),
        section=section_report(state),
        panorama=panorama_report(state),
        light=light_report(state),
        depth=depth_report(state),
        ledger=ledger_report(state),
        range=range_report(state),
        motion=motion_report(state),
        sequence=build_sequence(state),
        tensions=tensions(state),
    )
