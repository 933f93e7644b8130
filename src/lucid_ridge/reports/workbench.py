"""What the workbench shows while one bench is open: the pictures, the day, the settings, the tensions, and that bench."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Literal

from lucid_ridge.core.changes.kinds import Change
from lucid_ridge.core.light.terrain import Terrain
from lucid_ridge.core.model.scene import Composition, Scene
from lucid_ridge.core.records import record
from lucid_ridge.reports.depth.report import DepthReport, depth_report
from lucid_ridge.reports.evaluate import changed_state
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
from lucid_ridge.reports.light.report import LightReport, light_report, ribbon_report
from lucid_ridge.reports.light.ribbon import Ribbon
from lucid_ridge.reports.sequence.build import build_sequence
from lucid_ridge.reports.sequence.frames import Sequence
from lucid_ridge.reports.tensions.report import Tension, tensions

Bench = Literal["frame", "light", "depth", "exposure", "ways", "sequence"]


@record
class WorkbenchReport:
    """As `Evaluation`, but of the benches only what the open one shows; the rest is None, and is not worked out.

    ``bench`` is the one that is open. The framing tells the shares of sky and foreground for the Frame bench alone.
    """

    bench: Bench
    composition: Composition
    setting_summaries: tuple[SettingSummary, ...]
    framing: FramingReport
    plan: PlanReport
    section: SectionReport
    ribbon: Ribbon
    tensions: tuple[Tension, ...]
    separation: tuple[Merger, ...] | None = None
    panorama: PanoramaReport | None = None
    light: LightReport | None = None
    depth: DepthReport | None = None
    ledger: LedgerReport | None = None
    range: RangeReport | None = None
    motion: MotionReport | None = None
    sequence: Sequence | None = None


def workbench_report(
    scene: Scene, changes: Iterable[Change], bench: Bench, terrain: Terrain | None = None
) -> WorkbenchReport:
    """What follows from a scene after changes, as far as it is shown; see `changed_state` for errors."""
    state = changed_state(scene, changes, terrain)
    panorama = panorama_report(state) if bench == "frame" else None
    return WorkbenchReport(
        bench=bench,
        composition=state.scene.composition,
        setting_summaries=setting_summaries(state),
        framing=framing_report(state, shares=bench == "frame"),
        plan=plan_report(state),
        section=section_report(state),
        ribbon=ribbon_report(state),
        tensions=tensions(state),
        separation=separation(state) if bench == "frame" else None,
        panorama=panorama,
        light=light_report(state) if bench == "light" else None,
        depth=depth_report(state) if bench == "depth" else None,
        ledger=ledger_report(state) if bench == "exposure" else None,
        range=range_report(state) if bench == "exposure" else None,
        motion=motion_report(state) if bench == "exposure" else None,
        sequence=build_sequence(state) if bench == "sequence" or panorama else None,
    )
