"""What a schedule has to find its way through: visits with their chances, legs between them, and days to be out.

All instants are whole minutes since 1970, UTC: neither midnight, nor a change of the clocks, nor a border between time zones is
anything to them. Durations are whole minutes.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace

from lucid_ridge.core.model.outing import Wanted

WANTED: tuple[Wanted, ...] = ("must", "want", "if_fits")


@dataclass(frozen=True)
class Leg:
    """A way from one point to another: minutes it takes in daylight, and in the dark."""

    light_min: int
    dark_min: int


@dataclass(frozen=True)
class Chance:
    """One way of fitting a visit into a day.

    The first frame falls within ``first_from`` to ``first_to``; nobody is on the ground before ``ground_from`` or after
    ``ground_to``. ``opens`` is when what is waited for begins: set-up wants to be done some time before it.
    """

    day: int
    first_from: int
    first_to: int
    ground_from: int
    ground_to: int
    opens: int


@dataclass(frozen=True)
class Visit:
    """A picture to be taken on the way.

    Set-up, frames and a margin for fussing follow each other; waiting is between set-up and the first frame. ``ready_min`` is how
    long before its light one wants to stand there, as far as nothing more is lost by it.
    """

    key: str
    wanted: Wanted
    set_up_min: int
    frames_min: int
    margin_min: int
    ready_min: int
    chances: tuple[Chance, ...]

    @property
    def work_min(self) -> int:
        """From arriving to leaving where nothing is waited for."""
        return self.set_up_min + self.frames_min + self.margin_min


@dataclass(frozen=True)
class Day:
    """A time out: not left before, back by, and the stretches in which one sees without a lamp."""

    leave_from: int
    back_by: int
    light: tuple[tuple[int, int], ...]


@dataclass(frozen=True)
class Task:
    """Days, visits, and the legs between all points; None where there is no way.

    Points are the visits, by their index, then for each day its start and its end.
    """

    days: tuple[Day, ...]
    visits: tuple[Visit, ...]
    legs: tuple[tuple[Leg | None, ...], ...] = field(repr=False)

    def start(self, day: int) -> int:
        """The point where a day starts."""
        return len(self.visits) + 2 * day

    def end(self, day: int) -> int:
        """The point where a day ends."""
        return len(self.visits) + 2 * day + 1

    def with_visit(self, index: int, visit: Visit) -> Task:
        """The task with one visit changed."""
        return replace(self, visits=(*self.visits[:index], visit, *self.visits[index + 1 :]))

    def with_day(self, index: int, day: Day) -> Task:
        """The task with one day changed."""
        return replace(self, days=(*self.days[:index], day, *self.days[index + 1 :]))


Value = tuple[int, int, int]


def value_of(task: Task, chosen: list[int]) -> Value:
    """How many musts, wants and ifs a choice of visits holds: the more of the first, then of the second, the better."""
    kinds = [task.visits[i].wanted for i in chosen]
    return kinds.count("must"), kinds.count("want"), kinds.count("if_fits")


def worth(task: Task, visit: Visit) -> int:
    """A number for one visit, so that the sums are in the order of `value_of`."""
    count = len(task.visits) + 1
    return {"must": count * count, "want": count, "if_fits": 1}[visit.wanted]
