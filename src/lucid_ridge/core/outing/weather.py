"""What the light and the picture of a composition ask of the weather, held against a forecast.

The limits are common practice; none of them is a law, and gusts at the ground are weaker than at the height they are forecast for.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from lucid_ridge.core.daylight.sun_chance import chance_of_sun, cloud_layers
from lucid_ridge.core.light.weather import covered
from lucid_ridge.core.model.place import Forecast
from lucid_ridge.core.model.scene import Composition

Array = NDArray[np.float64]
NeedKind = Literal["sun", "even", "break", "calm", "clear_air", "dry"]
Verdict = Literal["yes", "perhaps", "no", "unknown"]
WORST: tuple[Verdict, ...] = ("no", "perhaps", "unknown", "yes")

SUN_YES, SUN_PERHAPS = 0.6, 0.3
COVER_YES, COVER_PERHAPS = 0.7, 0.4
BREAK_YES, BREAK_PERHAPS = 0.4, 0.7
CALM_CLOSE_M_S, CALM_LEAVES_M_S = 1.5, 3.0
"""What a close-up and what leaves and grasses that are to be sharp bear (common practice)."""
WINDY = 2.0
"""Up to this many times as much it is worth waiting for a lull."""
CLEAR_KM, HAZY_KM = 15.0, 8.0
FAR_M = 5000.0
DRY_MM_H, WET_MM_H = 0.2, 1.0


@dataclass(frozen=True)
class Need:
    """What is needed, and the limit where it has one that depends on the picture."""

    kind: NeedKind
    limit: float = 0.0


@dataclass(frozen=True)
class Judgement:
    """A need held against the forecast: the figure that decides, and whether it holds."""

    need: Need
    figure: float
    verdict: Verdict


def needs_of(composition: Composition) -> tuple[Need, ...]:
    """What a composition asks of the weather.

    Direct sun where light from a side, a lit element or a low sun is wished for; an even sky where something is to lie in shade, or where
    its metering counts a cloud; a break in the low cloud for the minutes about rising and setting.
    """
    wish, made = composition.light_wish, []
    shaded = bool(wish.lit) and not any(one.lit for one in wish.lit)
    glow = wish.around in ("sunrise", "sunset")
    if glow:
        made.append(Need("break"))
    elif not wish.sides and (shaded or composition.cloud_stops >= 1):
        made.append(Need("even"))
    elif wish.around not in ("moonrise", "moonset"):
        made.append(Need("sun"))
    if wish.around in ("moonrise", "moonset") or wish.moon == "up":
        made.append(Need("break"))
    close = bool(composition.close_up.mounted) or composition.close_up.subject_width_mm is not None
    leaves = any(e.motion == "foliage" and e.sharp for e in composition.elements)
    if close or composition.wants.sharp_foliage or leaves:
        made.append(Need("calm", CALM_CLOSE_M_S if close else CALM_LEAVES_M_S))
    if any(e.sharp and max(abs(e.east_m), abs(e.north_m)) > FAR_M for e in composition.elements):
        made.append(Need("clear_air", CLEAR_KM))
    return (*made, Need("dry", DRY_MM_H))


def _over(forecast: Forecast, values: list[float], first: float, last: float) -> Array:
    """A forecast's values at each five minutes of a span, by lines between the hours."""
    at = np.array([h.at_utc.timestamp() for h in forecast.hours])
    return np.asarray(np.interp(np.arange(first, max(last, first + 1), 300.0), at, np.array(values)))


def _rising(figure: float, yes: float, perhaps: float) -> Verdict:
    return "yes" if figure >= yes else "perhaps" if figure >= perhaps else "no"


def _falling(figure: float, yes: float, perhaps: float) -> Verdict:
    return "yes" if figure <= yes else "perhaps" if figure <= perhaps else "no"


def judge(need: Need, forecast: Forecast | None, first_unix: float, last_unix: float) -> Judgement:
    """Whether what is needed is forecast for a span; unknown where the forecast does not reach."""
    hours = forecast.hours if forecast else ()
    if forecast is None or not hours or not hours[0].at_utc.timestamp() <= first_unix <= hours[-1].at_utc.timestamp():
        return Judgement(need, 0.0, "unknown")
    at = np.arange(first_unix, max(last_unix, first_unix + 1), 300.0)
    match need.kind:
        case "sun":
            chance = float(np.nan_to_num(chance_of_sun(forecast, at)).mean())
            return Judgement(need, chance, _rising(chance, SUN_YES, SUN_PERHAPS))
        case "even":
            _, low, middle, high = cloud_layers(forecast)
            cover = float(_over(forecast, covered(low, middle, high).tolist(), first_unix, last_unix).mean())
            return Judgement(need, cover, _rising(cover, COVER_YES, COVER_PERHAPS))
        case "break":
            low_cloud = float(_over(forecast, [h.cloud_low for h in hours], first_unix, last_unix).mean())
            return Judgement(need, low_cloud, _falling(low_cloud, BREAK_YES, BREAK_PERHAPS))
        case "calm":
            wind = float(_over(forecast, [h.wind_m_s for h in hours], first_unix, last_unix).mean())
            return Judgement(need, wind, _falling(wind, need.limit, need.limit * WINDY))
        case "clear_air":
            seen = float(_over(forecast, [h.visibility_km for h in hours], first_unix, last_unix).min())
            return Judgement(need, seen, _rising(seen, CLEAR_KM, HAZY_KM))
        case "dry":
            rain = float(_over(forecast, [h.rain_mm_h for h in hours], first_unix, last_unix).max())
            return Judgement(need, rain, _falling(rain, DRY_MM_H, WET_MM_H))


def worst(judgements: tuple[Judgement, ...]) -> Verdict:
    """What all of them come to together."""
    return min((j.verdict for j in judgements), key=WORST.index, default="unknown")
