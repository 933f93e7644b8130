"""What the demo knows of its places: marks, paths, seasons, tide. Everything is invented."""

from __future__ import annotations

import numpy as np

from lucid_ridge.app.places.notes import PlaceNotes, Season
from lucid_ridge.core.light.terrain import position_of
from lucid_ridge.core.model.place import TideConstituent, TideStation

NOTES = {
    "tarn": PlaceNotes(
        access="Good path along the east shore. Boggy after rain.",
        parking="Lay-by at the dam, six cars. Full by nine in summer.",
        walk_in="25 minutes, 60 m up.",
        right_of_way="Public footpath to the boathouse; the west shore is private.",
        hazards="The boulder shore is slippery when wet, and the water is deep close in.",
        seasons=[
            Season(kind="frozen", from_month=1, to_month=2, note="Ice from the shallow end. Never walk on it."),
            Season(kind="leaf_colour", from_month=10, to_month=11, note="Birches on the far shore, second half of October."),
            Season(kind="crowds", from_month=7, to_month=8, note="Bathers from ten o'clock."),
        ],
    ),
    "beck": PlaceNotes(
        access="Gate below the sheepfold; leave it as found.",
        walk_in="Ten minutes downhill.",
        right_of_way="Open access land.",
        hazards="Wet stone. The beck rises fast after rain: keep the way out behind you.",
        seasons=[Season(kind="dry", from_month=6, to_month=8, note="Little water in a dry summer.")],
    ),
    "moss": PlaceNotes(
        access="Duckboards from the old peat road. Stay on them: the bog is fragile.",
        walk_in="40 minutes.",
        hazards="Deep pools beside the boards. Cold air collects here before dawn.",
        seasons=[Season(kind="flowers", from_month=5, to_month=6, note="Cotton-grass in seed."),
                 Season(kind="closed", from_month=3, to_month=4, note="Birds nest: keep to the boards.")],
    ),
    "sands": PlaceNotes(
        access="Slipway at the end of the lane.",
        parking="On the hard, above the weed line only.",
        hazards="The tide comes in behind you through the channels. Soft mud. Follow the local tide table and ask.",
        right_of_way="Foreshore; ask about the oyster beds.",
    ),
}  # fmt: skip

SANDS_TIDE = TideStation(
    name="Samphire Creek (invented)",
    datum="chart datum",
    mean_m=4.6,
    constituents=tuple(
        TideConstituent(name=name, amplitude_m=amplitude, phase_deg=phase)
        for name, amplitude, phase in (
            ("M2", 2.92, 318.0), ("S2", 0.95, 2.0), ("N2", 0.56, 295.0), ("K2", 0.27, 359.0), ("K1", 0.11, 186.0),
            ("O1", 0.11, 41.0), ("P1", 0.04, 178.0), ("M4", 0.17, 210.0), ("MS4", 0.10, 262.0),
        )
    ),
)  # fmt: skip


def walk_in() -> list[tuple[float, float, float | None]]:
    """The path from the lay-by to the tarn."""
    share = np.linspace(0.0, 1.0, 40)
    east = 1150 - 1080 * share + 70 * np.sin(share * 9)
    north = -900 + 830 * share + 40 * np.cos(share * 7)
    return [(*position_of(54.1, -2.4, float(e), float(n)), None) for e, n in zip(east, north, strict=True)]


PARKING = position_of(54.1, -2.4, 1150.0, -860.0)
GATE = position_of(54.11, -2.43, 120.0, -140.0)
