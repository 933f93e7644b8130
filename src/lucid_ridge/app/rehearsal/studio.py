"""The drawing process beside each web process.

It is slower in the queue for the processor than what answers people, and waits its turn with what else takes long. It is
spoken to in pickles over its own pipes, by the process that started it and nobody else.
"""

from __future__ import annotations

import pickle
import threading

from lucid_ridge.app.problems import Busy
from lucid_ridge.app.rehearsal.messages import Asked, Drawn, LacksTerrain, NoSuchFrame, PairAsked, PairDrawn, send
from lucid_ridge.app.terrains.operations import terrain_of
from lucid_ridge.app.turns import turn
from lucid_ridge.formats.own_process import OwnProcess

DESK, _LOCK = OwnProcess("lucid_ridge.app.rehearsal.desk", ("-W", "ignore")), threading.Lock()


def drawn(asked: Asked | PairAsked) -> Drawn | PairDrawn | NoSuchFrame:
    """What was asked for, drawn in its turn.

    Raises
    ------
    NoDrill
        If the scene gives no such drill.
    Busy
        If too many wait, or the process ended before it had answered.

    """
    with turn(), _LOCK:
        pipes = DESK.ready()
        try:
            send(pipes.hears, asked)
            answer = pickle.load(pipes.tells)
            if isinstance(answer, LacksTerrain):
                # A terrain that is at hand never changes: whoever heard of it once knows it by its name.
                send(pipes.hears, (asked.scene.place.terrain_id, terrain_of(asked.scene.place)))
                send(pipes.hears, asked)
                answer = pickle.load(pipes.tells)
        except (OSError, EOFError, pickle.UnpicklingError):
            DESK.end()
            raise Busy from None
    if isinstance(answer, Exception):
        raise answer
    assert isinstance(answer, Drawn | PairDrawn | NoSuchFrame), type(answer)
    return answer
