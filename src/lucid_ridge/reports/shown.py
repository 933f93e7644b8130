"""The numbers that are shown, by the keys that explain them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from typing import Any

from lucid_ridge.core.camera.mounted_lens import bare_lens
from lucid_ridge.core.model.kit import Lens
from lucid_ridge.core.state.state import State
from lucid_ridge.core.tensions.find import find
from lucid_ridge.reports.close_up.report import close_up_report
from lucid_ridge.reports.depth.report import depth_report
from lucid_ridge.reports.depth.sharpness import sharpness_study
from lucid_ridge.reports.exposure.report import ledger_report, motion_report
from lucid_ridge.reports.exposure.study import exposure_study
from lucid_ridge.reports.exposure.tonal_range import range_report
from lucid_ridge.reports.figures import Readout
from lucid_ridge.reports.frame.panorama import panorama_report
from lucid_ridge.reports.frame.separation import separation
from lucid_ridge.reports.frame.view import framing_report
from lucid_ridge.reports.light.report import light_report
from lucid_ridge.reports.light.skyline import skyline_report
from lucid_ridge.reports.sequence.build import build_sequence
from lucid_ridge.reports.tensions.words import said

Report = Callable[[State, tuple[Lens, ...]], Any]


def beside_each_other(state: State, lenses: tuple[Lens, ...]) -> tuple[Lens, ...]:
    """The lenses that stand side by side: those told, else the one in use alone."""
    return lenses or (bare_lens(state.scene.kit.lens),)


def _close(state: State, lenses: tuple[Lens, ...]) -> object:
    return close_up_report(state, beside_each_other(state, lenses))


_REPORTS: dict[str, tuple[Report, ...]] = {
    "framing": (lambda s, _: framing_report(s), lambda s, _: separation(s)),
    "panorama": (lambda s, _: panorama_report(s),),
    "light": (lambda s, _: light_report(s), lambda s, _: skyline_report(s)),
    "depth": (lambda s, _: depth_report(s), lambda s, _: sharpness_study(s)),
    "close": (_close,),
    "exposure": (lambda s, _: ledger_report(s), lambda s, _: exposure_study(s)),
    "range": (lambda s, _: range_report(s), lambda s, _: exposure_study(s)),
    "motion": (lambda s, _: motion_report(s), lambda s, _: exposure_study(s), _close),
    "sequence": (lambda s, _: build_sequence(s),),
}


def figures(record: object) -> Iterator[Readout]:
    """Every figure in a nest of records."""
    if isinstance(record, Readout):
        yield record
    elif isinstance(record, tuple):
        for one in record:
            yield from figures(one)
    elif hasattr(record, "__dataclass_fields__"):
        for name in record.__dataclass_fields__:
            yield from figures(getattr(record, name))


def text_of(state: State, key: str, lenses: tuple[Lens, ...]) -> str | None:
    """What is shown under a key; None where that is not in any report of this scene."""
    for report in _REPORTS.get(key.partition(".")[0], ()):
        for figure in figures(report(state, lenses)):
            if figure.explain == key:
                return figure.text
    return next((one.text for one in (said(state, found) for found in find(state)) if one.explain == key), None)
