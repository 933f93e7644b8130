"""The panorama: its panels, what they stitch to, and what to watch."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.camera.panorama import Panel, brightest_reading, frame_views_deg, panel_grid, panels
from lucid_ridge.core.framing.crop import print_side_m
from lucid_ridge.core.framing.panels import parallax_px, span_deg, stitched_pixels, tilted_base_px
from lucid_ridge.core.framing.silhouettes import Paint
from lucid_ridge.core.model.scene import PanelReading
from lucid_ridge.core.records import record
from lucid_ridge.core.state.state import State
from lucid_ridge.reports.figures import Readout, degrees_text, distance_text, stops_text
from lucid_ridge.reports.frame.view import element_tones
from lucid_ridge.reports.frame.words import turn_text

SEAM_PX = 2.0
"""A shift up to this many pixels is lost in blending (common practice)."""
_TILT_DEG = 1.0
_LEVEL_WITHIN_DEG = 3.0

Array = NDArray[np.float64]
Ring = tuple[tuple[float, float], ...]


@record
class PanelRow:
    """One panel in shooting order. ``ring`` is its frame on the strip; ``against`` its reading less the brightest."""

    number: int
    azimuth: Readout
    pitch: Readout
    turn: str
    ring: Ring
    reading_ev100: float | None
    read_deg: float | None
    against: str
    brightest: bool


@record
class StripShape:
    """An outline on the strip, 0..1 across the span and 0..1 down."""

    id: str
    name: str
    tone: int
    paint: Paint
    ring: Ring


@record
class PanoramaReport:
    """The panorama as planned. The strip is cylindrical; panels number in shooting order."""

    count: Readout
    rows: int
    columns: int
    span: Readout
    step: Readout
    overlap: Readout
    stitched: Readout
    print_size: Readout
    parallax: Readout
    base: Readout
    cautions: tuple[str, ...]
    panels: tuple[PanelRow, ...]
    strip_aspect: float
    strip_horizon: float
    shapes: tuple[StripShape, ...]


def focal_px(state: State) -> float:
    """Image distance in pixels."""
    body = state.scene.kit.body
    pitch = max(body.sensor_width_mm, body.sensor_height_mm) / max(body.pixels_across, body.pixels_down)
    return state.geometry.camera.image_distance_mm / pitch


class _Strip:
    """Cylindrical coordinates over the span: azimuth across, tangent of the altitude up."""

    def __init__(self, state: State, low_deg: float, high_deg: float, span: float) -> None:
        panorama = state.scene.composition.panorama
        self.middle = panorama.from_deg + span / 2
        self.span = span
        self.low, self.high = math.tan(math.radians(low_deg)), math.tan(math.radians(high_deg))
        self.aspect = math.radians(span) / (self.high - self.low)

    def ring(self, azimuth_deg: Array, tangent: Array) -> Ring:
        """A ring on the strip; empty where it runs across the seam behind the span's middle."""
        relative = (azimuth_deg - self.middle + 180) % 360 - 180
        if np.abs(np.diff(relative)).max(initial=0) > 180:
            return ()
        x = np.clip(0.5 + relative / self.span, -3, 4)
        y = np.clip((self.high - tangent) / (self.high - self.low), -3, 4)
        return tuple(zip(x.round(5).tolist(), y.round(5).tolist(), strict=True))


def _panel_ring(state: State, strip: _Strip, panel: Panel) -> Ring:
    """The frame of a panel on the strip: its edges traced, since they bow."""
    half_x, half_y = state.geometry.camera.half_tangents
    t = np.linspace(-1, 1, 9)
    edge = np.concatenate(
        [
            np.stack([t, -np.ones(9)], axis=1),
            np.stack([np.ones(9), t], axis=1),
            np.stack([-t, np.ones(9)], axis=1),
            np.stack([-np.ones(9), -t], axis=1),
        ]
    )
    pitch = math.radians(panel.pitch_deg)
    right, up = edge[:, 0] * half_x, -edge[:, 1] * half_y
    ahead = math.cos(pitch) - up * math.sin(pitch)
    rise = math.sin(pitch) + up * math.cos(pitch)
    azimuth = panel.azimuth_deg + np.degrees(np.arctan2(right, ahead))
    return strip.ring(azimuth, rise / np.hypot(right, ahead))


def _shapes(state: State, strip: _Strip) -> tuple[StripShape, ...]:
    geometry = state.geometry
    lens = np.asarray(geometry.camera.position_m)
    tone = element_tones(geometry)
    found = []
    for i in geometry.far_to_near:
        for paint, points in geometry.shapes(i):
            offset = points - lens
            away = np.maximum(np.hypot(offset[:, 0], offset[:, 1]), 1e-6)
            ring = strip.ring(np.degrees(np.arctan2(offset[:, 0], offset[:, 1])), offset[:, 2] / away)
            if ring and paint != "shade" and max(x for x, _ in ring) > 0 and min(x for x, _ in ring) < 1:
                e = geometry.elements[i]
                found.append(StripShape(id=e.id, name=e.name, tone=tone[i], paint=paint, ring=ring))
    return tuple(found)


def _cautions(state: State, seam: float, nearest: float, step: float, tall: tuple[float, float]) -> tuple[str, ...]:
    composition, units = state.scene.composition, state.scene.units
    offset = composition.panorama.pupil_offset_mm
    said = ["Level the base before the camera, and lock focus, exposure and white balance for all panels."]
    if abs(composition.pitch_deg) > _LEVEL_WITHIN_DEG and composition.panorama.bottom_deg is None:
        said.append(
            f"Pitched {degrees_text(composition.pitch_deg)}, the row bows the horizon and loses height: "
            "level the camera and crop, or take rows."
        )
    if offset == 0:
        said.append("Turn about the entrance pupil; give its offset if you cannot.")
    elif seam > SEAM_PX:
        allowed = offset * SEAM_PX / seam
        said.append(
            f"Near things at {distance_text(nearest, units)} shift by {seam:.0f} px between panels: "
            f"bring the entrance pupil within {allowed:.0f} mm of the axis, or step back."
        )
    if step < 0:
        said.append("The span is narrower than one frame: no panorama is needed.")
    if max(abs(tall[0]), abs(tall[1])) > 60:
        said.append("Steep rows stretch in a cylinder; stitch them on a sphere.")
    return tuple(said)


# Long: one record, field by field.
def panorama_report(state: State) -> PanoramaReport | None:
    """The panorama of a composition; None where there is none."""
    composition, units = state.scene.composition, state.scene.units
    panorama = composition.panorama
    taken, grid = panels(composition, state.scene.kit), panel_grid(composition, state.scene.kit)
    if not taken or grid is None:
        return None
    wide, tall = frame_views_deg(composition, state.scene.kit)
    span = span_deg(panorama.from_deg, panorama.to_deg)
    columns = 1 + max(one.column for one in taken)
    rows = 1 + max(one.row for one in taken)
    low = min(one.pitch_deg for one in taken) - tall / 2
    high = max(one.pitch_deg for one in taken) + tall / 2
    strip = _Strip(state, max(low, -80.0), min(high, 80.0), max(span, wide))
    ordered = sorted((one for one in taken if one.row == 0), key=lambda one: one.column)
    step = (ordered[1].azimuth_deg - ordered[0].azimuth_deg) % 360 if columns > 1 else 0.0
    px = focal_px(state)
    width, height = stitched_pixels(max(span, wide), max(low, -80.0), min(high, 80.0), px)
    nearest = float(np.nanmin(state.geometry.near_m)) if (~np.isnan(state.geometry.near_m)).any() else math.inf
    seam = parallax_px(panorama.pupil_offset_mm / 1000, step, nearest, px) if math.isfinite(nearest) else 0.0
    base = tilted_base_px(_TILT_DEG, span, px)
    brightest = brightest_reading(composition)

    def reading_near(one: Panel) -> PanelReading | None:
        half = max(step, wide / 2) / 2 + 1e-6
        close = [r for r in panorama.readings if abs((r.azimuth_deg - one.azimuth_deg + 180) % 360 - 180) <= half]
        return max(close, key=lambda r: r.ev100, default=None)

    rows_out = []
    for before, one in zip((None, *taken), taken, strict=False):
        read = reading_near(one)
        rows_out.append(
            PanelRow(
                number=one.number,
                azimuth=Readout(
                    value=one.azimuth_deg, text=degrees_text(one.azimuth_deg, 1), explain=f"panorama.panel:{one.number}"
                ),
                pitch=Readout(value=one.pitch_deg, text=degrees_text(one.pitch_deg, 1)),
                turn=turn_text(before, one) or "start here",
                ring=_panel_ring(state, strip, one),
                reading_ev100=read.ev100 if read else None,
                read_deg=read.azimuth_deg if read else None,
                against=""
                if read is None or brightest is None
                else stops_text(round((read.ev100 - brightest.ev100) * 3) / 3),
                brightest=read is not None and read == brightest,
            )
        )
    inches = (print_side_m(width), print_side_m(height))
    return PanoramaReport(
        count=Readout(value=len(taken), text=f"{len(taken)}", explain="panorama.panels"),
        rows=rows,
        columns=columns,
        span=Readout(value=span, text=degrees_text(span, 1), explain="panorama.span"),
        step=Readout(value=step, text=degrees_text(step, 1), explain="panorama.step"),
        overlap=Readout(
            value=1 - step / grid.wide_deg if columns > 1 else None,
            text=f"{1 - step / grid.wide_deg:.0%}" if columns > 1 else "none",
            explain="panorama.overlap",
        ),
        stitched=Readout(
            value=width * height / 1e6,
            text=f"{width:.0f} × {height:.0f} px, {width * height / 1e6:.0f} MP",
            explain="panorama.stitched",
        ),
        print_size=Readout(
            value=inches[0],
            text=f"{distance_text(inches[0], units)} × {distance_text(inches[1], units)}",
            explain="panorama.print",
        ),
        parallax=Readout(value=seam, text=f"{seam:.1f} px", explain="panorama.parallax"),
        base=Readout(value=base, text=f"{base:.0f} px", explain="panorama.base"),
        cautions=_cautions(state, seam, nearest, span - wide, (low, high)),
        panels=tuple(rows_out),
        strip_aspect=strip.aspect,
        strip_horizon=strip.high / (strip.high - strip.low),
        shapes=_shapes(state, strip),
    )
