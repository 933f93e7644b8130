"""A reference photograph for the demo, painted from a composition as if somebody had taken it by phone."""

from __future__ import annotations

import io
import random
from dataclasses import replace

from PIL import ExifTags, Image, ImageDraw, ImageFilter

from lucid_ridge.core.camera.geometry import build_geometry
from lucid_ridge.core.camera.picture import mirrors, reflections
from lucid_ridge.core.model.scene import Scene

WIDE_PX, TALL_PX = 1500, 1000
EQUIVALENT_MM = 26

_SKY = ((176, 190, 204), (226, 214, 196))
_TONES = ((148, 160, 172), (116, 128, 132), (84, 94, 84), (62, 66, 56), (44, 46, 40))
_WATER = (140, 152, 158)
_GROUND = (118, 116, 92)


def _tone(away_m: float) -> tuple[int, int, int]:
    return _TONES[sum(1 for bound in (3000.0, 500.0, 60.0, 4.0) if away_m < bound)]


def reference_photograph(scene: Scene) -> bytes:
    """A JPEG of what a 26 mm equivalent lens sees from the standpoint, aimed a little aside of the composition."""
    composition = replace(
        scene.composition,
        azimuth_deg=(scene.composition.azimuth_deg + 3.0) % 360,
        pitch_deg=scene.composition.pitch_deg + 1.5,
        settings=replace(scene.composition.settings, focal_length_mm=float(EQUIVALENT_MM), focus_m=None),
    )
    geometry = build_geometry(replace(scene, composition=composition))
    image = Image.new("RGB", (WIDE_PX, TALL_PX), _GROUND)
    draw = ImageDraw.Draw(image)
    horizon = geometry.camera.horizon_y() or (0.5, 0.5)
    level = round(sum(horizon) / 2 * TALL_PX)
    for y in range(max(level, 0)):
        share = y / max(level, 1)
        draw.line((0, y, WIDE_PX, y), tuple(round(a + (b - a) * share) for a, b in zip(*_SKY, strict=True)))

    def paint(points: tuple[tuple[float, float], ...], colour: tuple[int, int, int]) -> None:
        if len(points) > 2:
            draw.polygon([(x * WIDE_PX, y * TALL_PX) for x, y in points], colour)

    for i in geometry.far_to_near:
        element = geometry.elements[i]
        colour = _WATER if element.role == "water" else _tone(geometry.away(i)[0])
        if element.role == "sky":
            colour = (232, 226, 216)
        for outline in geometry.outlines(i):
            paint(outline.points, (206, 198, 176) if outline.paint == "light" else colour)
        if i in mirrors(geometry):
            for seen in reflections(geometry, i):
                mixed = _tone(geometry.away(seen.index)[0])
                for part in getattr(seen.seen, "geoms", (seen.seen,)):
                    ring = tuple((x / geometry.aspect, y) for x, y in part.exterior.coords) if part.area else ()
                    paint(ring, tuple((a + 2 * b) // 3 for a, b in zip(mixed, _WATER, strict=True)))  # type: ignore[arg-type]
    grain = random.Random(18)
    noise = Image.frombytes("L", (WIDE_PX // 3, TALL_PX // 3), grain.randbytes((WIDE_PX // 3) * (TALL_PX // 3)))
    noise = noise.resize((WIDE_PX, TALL_PX)).convert("RGB")
    image = Image.blend(image.filter(ImageFilter.GaussianBlur(1.2)), noise, 0.07)
    exif = Image.Exif()
    exif.get_ifd(ExifTags.IFD.Exif)[ExifTags.Base.FocalLengthIn35mmFilm] = EQUIVALENT_MM
    out = io.BytesIO()
    image.save(out, "JPEG", quality=86, exif=exif)
    return out.getvalue()
