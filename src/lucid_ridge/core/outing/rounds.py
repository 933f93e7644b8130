"""The rounds of an outing as constraints for CP-SAT: which visits, in which order, when, and what may give.

References
----------
.. [1] OR-Tools CP-SAT: the circuit constraint with a loop at each point that is left out.

"""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from lucid_ridge.core.outing.task import Chance, Leg, Task, worth
from lucid_ridge.core.outing.timing import Order

if TYPE_CHECKING:
    from ortools.sat.python import cp_model

Expression = Any
"""A variable of the solver, a sum of them, or a number."""

MOST_CHANGED_MIN = 240
"""A day that begins or ends more than four hours otherwise is another outing."""
_SEED = 7
_WORKERS = 1
"""One: with several the solver (9.15) has been seen to crash in its local search on rounds with loops."""


class Model:
    """The schedule as constraints. Attributes are its variables: which visits and chances, and when."""

    def __init__(self, task: Task) -> None:
        # It takes half a second and 60 MB to import; not every process plans outings.
        from ortools.sat.python import cp_model

        self.task = task
        self.model = cp_model.CpModel()
        self._lowest = min((d.leave_from for d in task.days), default=0)
        self._highest = max((d.back_by for d in task.days), default=0)
        self.in_ = [self.model.new_bool_var(f"in {i}") for i in range(len(task.visits))]
        self.on_day: list[list[Any]] = [
            [self.model.new_bool_var(f"in {i} on {d}") for d in range(len(task.days))] for i in range(len(task.visits))
        ]
        self.chosen: list[list[Any]] = [
            [self.model.new_bool_var(f"chance {i} {c}") for c in range(len(v.chances))]
            for i, v in enumerate(task.visits)
        ]
        self.arrive = [self._time(f"arrive {i}") for i in range(len(task.visits))]
        self.first = [self._time(f"first {i}") for i in range(len(task.visits))]
        self.leave = [self._time(f"leave {i}") for i in range(len(task.visits))]
        self.margin: list[Any] = [v.margin_min for v in task.visits]
        self.out = [self._time(f"out {d}") for d in range(len(task.days))]
        self.back = [self._time(f"back {d}") for d in range(len(task.days))]
        self.short: list[Any] = []
        self.arcs: dict[tuple[int, int, int], list[Any]] = {}

    def _time(self, name: str) -> Expression:
        return self.model.new_int_var(self._lowest - 1440, self._highest + 1440, name)

    def relax(self, most_min: int) -> list[tuple[str, int, Any]]:
        """Let one thing give: a visit's margin be cut, or a day begin earlier or end later, by up to so many minutes.

        To be called before `constrain`. The things that may give, as kind, index and minutes.
        """
        given: list[tuple[str, int, Any]] = []
        for i, visit in enumerate(self.task.visits):
            if visit.margin_min:
                cut = self.model.new_int_var(0, visit.margin_min, f"cut {i}")
                self.margin[i] = visit.margin_min - cut
                given.append(("margin", i, cut))
        for d in range(len(self.task.days)):
            given.append(("earlier", d, self.model.new_int_var(0, most_min, f"earlier {d}")))
            given.append(("later", d, self.model.new_int_var(0, most_min, f"later {d}")))
        used = [self.model.new_bool_var(f"gives {k} {i}") for k, i, _ in given]
        for (_, _, amount), flag in zip(given, used, strict=True):
            self.model.add(amount == 0).only_enforce_if(~flag)
        self.model.add_at_most_one(used)
        return given

    def constrain(self, given: list[tuple[str, int, Any]] | None = None) -> None:
        """Say all that must hold."""
        gives = {(kind, i): amount for kind, i, amount in given or []}
        for i in range(len(self.task.visits)):
            self._visit(i)
        for d, day in enumerate(self.task.days):
            self.model.add(self.out[d] >= day.leave_from - gives.get(("earlier", d), 0))
            self.model.add(self.back[d] <= day.back_by + gives.get(("later", d), 0))
            self._circuit(d, early_min=MOST_CHANGED_MIN if given else 0)
            self._one_at_a_time(d)

    def _one_at_a_time(self, d: int) -> None:
        """Nobody works at two visits at once: follows from the round, and lets the search see it sooner."""
        spans = []
        for i, visit in enumerate(self.task.visits):
            size = visit.set_up_min + visit.frames_min + self.margin[i]
            begins = self.first[i] - visit.set_up_min
            spans.append(
                self.model.new_optional_interval_var(begins, size, self.leave[i], self.on_day[i][d], f"at {i} on {d}")
            )
        self.model.add_no_overlap(spans)

    def _visit(self, i: int) -> None:
        visit, model = self.task.visits[i], self.model
        model.add(sum(self.chosen[i]) == self.in_[i])
        for d in range(len(self.task.days)):
            mine = [b for b, c in zip(self.chosen[i], visit.chances, strict=True) if c.day == d]
            model.add(self.on_day[i][d] == sum(mine))
        model.add(self.first[i] >= self.arrive[i] + visit.set_up_min)
        model.add(self.leave[i] == self.first[i] + visit.frames_min + self.margin[i])
        late = model.new_int_var(0, visit.ready_min, f"short {i}")
        wholly = model.new_bool_var(f"wholly {i}")
        model.add(late == visit.ready_min).only_enforce_if(wholly)
        for flag, c in zip(self.chosen[i], visit.chances, strict=True):
            model.add_linear_constraint(self.first[i], c.first_from, c.first_to).only_enforce_if(flag)
            model.add(self.arrive[i] >= c.ground_from).only_enforce_if(flag)
            model.add(self.leave[i] <= c.ground_to).only_enforce_if(flag)
            set_up_by = c.opens - visit.ready_min
            model.add(late >= self.arrive[i] + visit.set_up_min - set_up_by).only_enforce_if(flag, ~wholly)
        self.short.append(late)

    def _follows(self, d: int, early_min: int) -> list[list[bool]]:
        """Whether one visit can come right after another on a day at all, by their windows alone.

        ``early_min`` is by how much the day may begin earlier, and margins be left out, than the task says; 0 for not at all.
        """
        task, begins = self.task, self.task.days[d].leave_from - early_min
        left, latest = [], []
        for visit in task.visits:
            mine = [c for c in visit.chances if c.day == d]
            ready = begins + visit.set_up_min
            margin = 0 if early_min else visit.margin_min
            left.append(min((max(ready, c.first_from) for c in mine), default=0) + visit.frames_min + margin)
            latest.append(max((c.first_to for c in mine), default=-1) - visit.set_up_min)
        made = []
        for i in range(len(task.visits)):
            row = []
            for j in range(len(task.visits)):
                leg = task.legs[i][j]
                row.append(leg is not None and left[i] + leg.light_min <= latest[j])
            made.append(row)
        return made

    def _circuit(self, d: int, early_min: int) -> None:
        """A round through the visits of a day: node 0 is start and end, and alone where the day is not used."""
        task, model, day = self.task, self.model, self.task.days[d]
        arcs: list[tuple[int, int, Any]] = []
        follows = self._follows(d, early_min)
        idle = model.new_bool_var(f"idle {d}")
        arcs.append((0, 0, idle))
        model.add(self.out[d] == self.back[d]).only_enforce_if(idle)
        # Those that cannot fall on the day have no part in its round.
        here = [i for i, visit in enumerate(task.visits) if any(c.day == d for c in visit.chances)]
        node = {i: k + 1 for k, i in enumerate(here)}
        for i in here:
            arcs.append((node[i], node[i], ~self.on_day[i][d]))
            out = self._legs(task.legs[task.start(d)][i], self.out[d], self.arrive[i], day.light, (d, 0, i + 1))
            home = self._legs(task.legs[i][task.end(d)], self.leave[i], self.back[d], day.light, (d, i + 1, 0))
            arcs += [(0, node[i], flag) for flag in out] + [(node[i], 0, flag) for flag in home]
            for j in here:
                if i != j and follows[i][j]:
                    found = self._legs(task.legs[i][j], self.leave[i], self.arrive[j], day.light, (d, i + 1, j + 1))
                    arcs += [(node[i], node[j], flag) for flag in found]
        model.add_circuit(arcs)

    def _legs(
        self,
        leg: Leg | None,
        leaves: Expression,
        arrives: Expression,
        light: tuple[tuple[int, int], ...],
        key: tuple[int, int, int],
    ) -> list[Any]:
        """One flag for the leg in the dark, and one for it in each stretch of daylight, where that is faster."""
        if leg is None:
            return []
        model, made = self.model, []
        flag = model.new_bool_var(f"leg {key}")
        model.add(arrives >= leaves + leg.dark_min).only_enforce_if(flag)
        made.append(flag)
        if leg.light_min < leg.dark_min:
            for k, (begins, ends) in enumerate(light):
                if ends - begins < leg.light_min:
                    continue
                flag = model.new_bool_var(f"leg {key} by day {k}")
                # Who waits for the light leaves later; the wait is between the two.
                model.add(arrives >= leaves + leg.light_min).only_enforce_if(flag)
                model.add(arrives >= begins + leg.light_min).only_enforce_if(flag)
                begun = model.new_int_var(begins, ends - leg.light_min, f"begun {key} {k}")
                model.add(begun >= leaves).only_enforce_if(flag)
                model.add(arrives >= begun + leg.light_min).only_enforce_if(flag)
                made.append(flag)
        self.arcs[key] = made
        return made

    def idle(self) -> Expression:
        """Minutes out that are not set-up, frames or margin."""
        work = sum(flag * v.work_min for flag, v in zip(self.in_, self.task.visits, strict=True))
        return sum(self.back) - sum(self.out) - work

    def value(self) -> Expression:
        """What the visits are worth together."""
        return sum(flag * worth(self.task, v) for flag, v in zip(self.in_, self.task.visits, strict=True))

    def solve(self, seconds: float) -> tuple[cp_model.CpSolver, int]:
        """The solver after its search, and its status."""
        from ortools.sat.python import cp_model

        solver = cp_model.CpSolver()
        solver.parameters.max_time_in_seconds = max(seconds, 0.05)
        solver.parameters.num_workers = _WORKERS
        solver.parameters.random_seed = _SEED
        return solver, int(solver.solve(self.model))

    def orders(self, solver: cp_model.CpSolver) -> list[tuple[Order, int]]:
        """The visits of each day in order, and when it is begun, as the solver found them."""
        made = []
        for d in range(len(self.task.days)):
            mine = [i for i in range(len(self.task.visits)) if solver.boolean_value(self.on_day[i][d])]
            mine.sort(key=lambda i: (solver.value(self.arrive[i]), solver.value(self.leave[i])))
            order = tuple((i, self._chance(solver, i)) for i in mine)
            made.append((order, solver.value(self.out[d])))
        return made

    def _chance(self, solver: cp_model.CpSolver, i: int) -> Chance:
        at = next(c for c, flag in enumerate(self.chosen[i]) if solver.boolean_value(flag))
        return self.task.visits[i].chances[at]


def found(status: int) -> bool:
    """Whether a status is one of an answer."""
    from ortools.sat.python import cp_model

    return status in (cp_model.OPTIMAL, cp_model.FEASIBLE)


def best(status: int) -> bool:
    """Whether a status says that nothing better exists."""
    from ortools.sat.python import cp_model

    return status == cp_model.OPTIMAL
