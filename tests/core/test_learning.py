"""What is learned from simulated logs: true values are found within their spread, noise teaches nothing, odd takes do no harm."""

from __future__ import annotations

import random
from collections.abc import Callable

import numpy as np
import pytest
from scipy.stats import binom

from lucid_ridge.core.learning.back_off import learned_back_off
from lucid_ridge.core.learning.charge import LEAST_FLAT, learned_charge
from lucid_ridge.core.learning.holding import learned_hold
from lucid_ridge.core.learning.looks import LEAST_TAKES, learned_look
from lucid_ridge.core.learning.pace import learned_pace

SEED = random.SystemRandom().randrange(10**6)
"""New logs each run; what is asked of them is what a run misses less than once in a thousand."""
TEXTURE_S = (0.25, 2.0)
MIDDLE = float(np.log2(np.sqrt(0.5)))


def rated(rng: np.random.Generator, best: float, takes: int, care: float = 1.0) -> tuple[list[float], list[float]]:
    """Shutter times and ratings of somebody who likes *best* (log2 s) most and cares so many stars a stop."""
    tried = rng.uniform(MIDDLE - 3.5, MIDDLE + 3.5, takes)
    stars = 4.6 - care * np.abs(tried - best) + rng.normal(0, 0.6, takes)
    return list(2.0**tried), list(np.clip(np.round(stars), 1, 5))


def test_what_somebody_likes_is_found_within_its_spread():
    print("seed", SEED)
    rng = np.random.default_rng(SEED)
    off, found = [], 0
    for _ in range(60):
        best = MIDDLE + rng.normal(0, 1.0)
        made = learned_look(*rated(rng, best, int(rng.integers(15, 60))), TEXTURE_S)
        if made is None:
            continue
        found += 1
        off.append(abs(np.log2(made.best_s) - best) / made.spread_stops)
        assert made.shortest_s < made.best_s < made.longest_s
        assert made.longest_s / made.shortest_s == pytest.approx((made.longest_s / made.best_s) ** 2)
    print(
        f"proposed in {found} of 60; within one spread {np.mean(np.array(off) < 1):.0%}, within two {np.mean(np.array(off) < 2):.0%}"
    )
    assert found >= 44
    assert np.mean(np.array(off) < 1) >= 0.45 and np.mean(np.array(off) < 2) >= 0.8


def test_noise_teaches_nothing():
    rng = np.random.default_rng(SEED + 1)
    made = [
        learned_look(list(2.0 ** rng.uniform(-4, 3, 30)), list(rng.integers(1, 6, 30).astype(float)), TEXTURE_S)
        for _ in range(150)
    ]
    assert sum(one is not None for one in made) <= 8, "2 of 100 by chance, of which half have no peak"


def test_a_few_odd_takes_move_it_little():
    rng = np.random.default_rng(SEED + 2)
    moved = []
    for _ in range(8):
        times, stars = rated(rng, MIDDLE + 0.5, 50)
        plain = learned_look(times, stars, TEXTURE_S)
        odd = learned_look([*times, 2.0**-4, 2.0**3.4], [*stars, 5.0, 5.0], TEXTURE_S)
        if plain is not None and odd is not None:
            moved.append(abs(np.log2(odd.best_s / plain.best_s)))
    assert len(moved) >= 5 and float(np.median(moved)) < 0.5


def test_few_takes_lean_on_common_practice_and_many_do_not():
    rng = np.random.default_rng(SEED + 3)
    best = MIDDLE + 1.5
    many = [learned_look(*rated(rng, best, 120), TEXTURE_S) for _ in range(12)]
    few = [one for one in (learned_look(*rated(rng, best, 14), TEXTURE_S) for _ in range(40)) if one]
    assert sum(one is not None and abs(np.log2(one.best_s) - best) < 0.7 for one in many) >= 9
    assert np.median([one.spread_stops for one in few]) > np.median([one.spread_stops for one in many if one])


@pytest.mark.parametrize(
    ("times", "stars"),
    [
        ([0.5] * 20, [4.0] * 10 + [1.0] * 10),
        ([0.25, 0.5, 1.0], [1.0, 5.0, 1.0]),
        ([0.2, 0.25] * 10, [5.0, 1.0] * 10),
        ([0.1 * 2**k for k in range(LEAST_TAKES)], [1.0 * (k > 3) + 3 for k in range(LEAST_TAKES)]),
        ([], []),
    ],
)
def test_nothing_is_proposed_where_nothing_was_varied_or_there_is_no_peak(times, stars):
    assert learned_look(times, stars, TEXTURE_S) is None


def test_the_same_log_gives_the_same_value():
    log = rated(np.random.default_rng(3), MIDDLE, 30)
    assert learned_look(*log, TEXTURE_S) == learned_look(*log, TEXTURE_S)


def held(rng: np.random.Generator, factor: float, takes: int) -> tuple[list[float], list[bool]]:
    """Takes by hand of somebody four of five of whose takes are sharp at *factor* times the rule's limit."""
    over = rng.uniform(-3, 4, takes)
    away = 2.5 * (over - np.log2(factor)) - np.log(4)
    return list(over), list(rng.random(takes) < 1 / (1 + np.exp(-away)))


def test_how_still_somebody_holds_is_found_within_its_spread():
    rng = np.random.default_rng(SEED + 4)
    off, found = [], 0
    for _ in range(100):
        factor = 2.0 ** rng.choice([-1.5, 1.5, 2.0])
        made = learned_hold(*held(rng, factor, int(rng.integers(25, 80))))
        if made:
            found += 1
            off.append(abs(np.log2(made.factor / factor)) / made.spread_stops)
    assert found >= 85
    assert np.mean(np.array(off) < 2) >= 0.85


def test_somebody_as_the_rule_says_gets_no_factor_of_their_own():
    rng = np.random.default_rng(SEED + 5)
    assert sum(learned_hold(*held(rng, 1.0, 40)) is not None for _ in range(200)) <= 14


def test_nothing_is_said_of_how_still_where_all_or_none_are_shaken():
    assert learned_hold([0, 1, 2, 3, 4, 5], [True] * 6) is None
    assert learned_hold([0, 1, 2, 3, 4, 5], [False] * 6) is None
    assert learned_hold([3, 4], [True, False]) is None


def paced(rng: np.random.Generator, factor: float, takes: int) -> tuple[list[float], list[float]]:
    """Planned and real times of somebody who takes *factor* times as long, with interruptions now and then."""
    planned = 2.0 ** rng.uniform(4, 10, takes)
    taken = planned * factor * 2.0 ** rng.normal(0, 0.25, takes)
    odd = rng.random(takes) < 0.1
    return list(planned), list(np.where(odd, taken * rng.uniform(2, 5, takes), taken))


def test_a_pace_is_found_within_its_spread_in_spite_of_interruptions():
    rng = np.random.default_rng(SEED + 7)
    off, found = [], 0
    for _ in range(80):
        factor = 2.0 ** rng.normal(0.4, 0.3)
        made = learned_pace(*paced(rng, factor, int(rng.integers(12, 120))))
        if made is not None:
            found += 1
            off.append(abs(np.log2(made.factor / factor)) / made.spread_stops)
    print(f"pace: proposed in {found} of 80; within one spread {np.mean(np.array(off) < 1):.0%}")
    assert found >= 45
    assert np.mean(np.array(off) < 1) >= 0.3 and np.mean(np.array(off) < 2.5) >= 0.8


def test_a_pace_as_planned_teaches_nothing():
    rng = np.random.default_rng(SEED + 8)
    planned = [list(2.0 ** rng.uniform(4, 10, 25)) for _ in range(150)]
    made = [learned_pace(one, list(np.array(one) * 2.0 ** rng.normal(0, 0.4, 25))) for one in planned]
    by_chance = binom(150, 0.02).isf(1e-6)
    assert sum(one is not None for one in made) <= by_chance, "2 of 100 at most, and more in one run of a million"
    assert learned_pace([60.0] * 7, [90.0] * 7) is None


def found_within_its_spread(what: str, tries: int, one: Callable[[], tuple[float, float] | None]) -> None:
    """*one* gives how far off a truth a proposal is and its spread, None where there is no proposal."""
    off = [made[0] / made[1] for made in (one() for _ in range(tries)) if made is not None]
    print(f"{what}: proposed in {len(off)} of {tries}; within one spread {np.mean(np.array(off) < 1):.0%}")
    assert len(off) >= 0.79 * tries
    assert np.mean(np.array(off) < 1) >= 0.45 and np.mean(np.array(off) < 2) >= 0.8


def charged(rng: np.random.Generator, factor: float, days: int) -> tuple[list[float], list[bool]]:
    """What charges had given when they were flat or the day was over, of somebody whom one lasts *factor* times as long."""
    used: list[float] = []
    flat: list[bool] = []
    for _ in range(days):
        wanted = float(2.0 ** rng.normal(-0.7, 1.0))
        while wanted > 0:
            life = factor * float(2.0 ** rng.normal(0, 0.3))
            used.append(min(wanted, life))
            flat.append(life < wanted)
            wanted -= life
    return used, flat


def test_how_long_a_charge_lasts_is_found_within_its_spread():
    rng = np.random.default_rng(SEED + 9)

    def one() -> tuple[float, float] | None:
        factor = float(rng.choice([0.5, 0.7, 1.5]))
        made = learned_charge(*charged(rng, factor, int(rng.integers(30, 100))))
        return made and (abs(np.log2(made.factor / factor)), made.spread_stops)

    found_within_its_spread("charge", 120, one)


def test_a_usual_charge_teaches_nothing():
    rng = np.random.default_rng(SEED + 10)
    made = [learned_charge(*charged(rng, 1.0, 30)) for _ in range(150)]
    assert sum(one is not None for one in made) <= binom(150, 0.03).isf(1e-6)


def test_batteries_that_lasted_tell_only_with_some_that_did_not():
    assert learned_charge([3.0] * 50, [False] * 50) is None
    assert learned_charge([0.4] * (LEAST_FLAT - 1), [True] * (LEAST_FLAT - 1)) is None
    one = learned_charge([0.4] * 8, [True] * 8)
    assert one is not None and one.factor == pytest.approx(0.4, rel=0.12)
    more = learned_charge([0.4] * 8 + [0.5] * 4, [True] * 8 + [False] * 4)
    assert more is not None and more.factor > one.factor, "those that lasted longer say so"


def coloured(rng: np.random.Generator, needed: float, takes: int) -> tuple[list[float], list[bool]]:
    """The room that saturated colours had in takes, and whether one channel was full; four of five are not at *needed* stops."""
    room = rng.uniform(needed - 0.8, needed + 1.2, takes)
    over = 5.0 * (needed - room) - np.log(4)
    return list(room), list(rng.random(takes) < 1 / (1 + np.exp(-over)))


def test_how_far_to_back_off_is_found_within_its_spread():
    rng = np.random.default_rng(SEED + 11)

    def one() -> tuple[float, float] | None:
        needed = float(rng.choice([0.0, 1.0, 1.4]))
        made = learned_back_off(*coloured(rng, needed, int(rng.integers(30, 100))))
        return made and (abs(made.stops - needed), made.spread_stops)

    found_within_its_spread("back-off", 120, one)


def test_backing_off_as_is_common_teaches_nothing():
    rng = np.random.default_rng(SEED + 12)
    made = [learned_back_off(*coloured(rng, 0.5, 40)) for _ in range(200)]
    assert sum(one is not None for one in made) <= binom(200, 0.03).isf(1e-6)
    assert learned_back_off([1.2] * 20, [False] * 20) is None and learned_back_off([1.2] * 20, [True] * 20) is None
