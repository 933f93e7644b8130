"""Two years of the demo: what is drawn in the background is there once, however often it is cut off, and is believable."""

from __future__ import annotations

import itertools
from collections import Counter
from uuid import uuid4

import pytest
from sqlalchemy import func, select

from lucid_ridge.app.field import operations as field
from lucid_ridge.app.field.schemas import SequenceNew
from lucid_ridge.app.jobs.running import Running, Work, carry_out
from lucid_ridge.app.jobs.tables import JobRow
from lucid_ridge.app.review.tables import LookedRow
from lucid_ridge.app.tables import PictureRow, Take
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.core.rehearsal.shots import shots_of
from lucid_ridge.core.state.state import build_state
from lucid_ridge.demo import years
from lucid_ridge.demo.names import demo_id
from lucid_ridge.demo.sample import records


def test_the_takes_are_the_same_each_time_and_spread_over_two_years():
    first, second = list(years.past_takes()), list(years.past_takes())
    assert [(one.started, one.rating, one.mishaps) for one in first] == [
        (one.started, one.rating, one.mishaps) for one in second
    ]
    assert len(first) == years.TAKES == len({one.id for one in first})
    assert (first[-1].started - first[0].started).days > 650
    assert {one.started.month for one in first} == set(range(1, 13))
    assert len({one.composition for one in first}) >= 8
    assert 20 <= sum(bool(one.mishaps) for one in first) <= 60
    assert {1, 2, 3, 4, 5, None} == {one.rating for one in first}
    by_fault = Counter(bool(one.faults) for one in first if one.rating is not None and one.rating >= 4)
    assert by_fault[True] < by_fault[False] / 4, "what went wrong is hardly ever kept"
    assert max(len(shots_of(build_state(one.scene))) for one in first) <= years.MOST_FRAMES


def test_frames_are_exposed_as_their_sequences_were_planned_under_the_fells_shadow_too(demo_app):
    """What stands before the sun is part of both: else the ratings would be of other times than the takes."""
    with demo_app.app_context():
        some = [one for one in years.past_takes(terrain_of) if one.composition in ("stones", "boathouse")][:12]
        differ = 0
        for one in some:
            terrain = terrain_of(one.scene.place)
            planned = field.make(
                SequenceNew(id=uuid4(), composition_id=demo_id(f"composition/{one.composition}"), scene=one.scene)
            )[0].plan.sequence.frames
            drawn = shots_of(build_state(one.scene, terrain=terrain))
            assert [s.shutter_s for s in drawn] == pytest.approx([f.exposure_s for f in planned])
            differ += [s.shutter_s for s in shots_of(build_state(one.scene))] != [s.shutter_s for s in drawn]
    assert differ, "the fells stand before the sun of some of them"


@pytest.fixture
def few(monkeypatch):
    """No more than six of them, the longest left out."""
    short = [one for one in years.past_takes() if len(shots_of(build_state(one.scene))) < 4][:6]
    monkeypatch.setattr(years, "past_takes", lambda terrain_at: iter(short))
    monkeypatch.setattr(years, "LATEST", years.LATEST[4:6])
    return short


def test_what_was_cut_off_is_taken_up_again_and_nothing_is_there_twice(demo_app, few):
    database = demo_app.extensions["database"]
    years.note_past(database.engine.url.render_as_string(hide_password=False))
    with database.transaction() as session:
        job = session.scalars(select(JobRow.id)).one()
    told = itertools.count()

    def cut_off(running: Running) -> None:
        if next(told) == 0:
            monkey = pytest.MonkeyPatch()
            monkey.setattr(years, "past_takes", lambda terrain_at: iter([*few[:3], None]))
            try:
                years.draw_past(running)
            except AttributeError:
                raise KeyboardInterrupt from None
            finally:
                monkey.undo()
        years.draw_past(running)

    with pytest.raises(KeyboardInterrupt):
        carry_out(demo_app, job, {years.JOB: Work(cut_off)})
    carry_out(demo_app, job, {years.JOB: Work(cut_off)})
    takes, pictures = (records()[kind] for kind in (Take, PictureRow))
    with database.transaction() as session:
        ended = session.get_one(JobRow, job)
        assert (ended.state, ended.result) == ("done", {"text": "3 takes with pictures are in the logbook."})
        assert session.scalar(select(func.count()).select_from(Take)) == 9 + 6
        kept = session.scalars(select(PictureRow)).all()
        frames = sum(len(shots_of(build_state(one.scene))) for one in few)
        assert len(kept) == 1 + 2 + frames
        assert len({(row.take_id, row.number) for row in kept}) == len(kept)
        assert {row.id for row in kept} <= pictures
        assert set(session.scalars(select(Take.id))) <= takes
        assert session.scalar(select(func.count()).select_from(LookedRow)) == 6 + 2
