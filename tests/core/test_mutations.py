"""Whatever is sent, every topic answers with numbers or with a clear refusal, and soon.

``LUCID_RIDGE_MUTATIONS`` says how many of each topic; 3,000 were run when the model was last changed.
"""

from __future__ import annotations

import os
import time

import pytest
from pydantic import ValidationError

from lucid_ridge.calc.topics import TOPICS
from lucid_ridge.core.records import SceneError

from .mutations import mutation

COUNT = int(os.environ.get("LUCID_RIDGE_MUTATIONS", "25"))
FIRST = int(os.environ.get("LUCID_RIDGE_FIRST_MUTATION", "0"))


def nonsense(answer: str) -> list[str]:
    """Words in an answer that are no numbers."""
    lowered = answer.lower()
    return [
        word
        for word in ('"nan', "nan ", ": nan", "nan,", "-inf", '"inf', "infinity,", " inf ", "inf%", "nan%")
        if word in lowered
    ]


@pytest.mark.parametrize("name", list(TOPICS))
def test_no_mutation_of_an_example_breaks_a_topic(name):
    topic = TOPICS[name]
    example = topic.example.model_dump(mode="json")
    schema = topic.request.model_json_schema()
    answered = 0
    for seed in range(FIRST, FIRST + COUNT):
        text = mutation(seed, example, schema)
        began = time.process_time()
        try:
            request = topic.request.model_validate_json(text, strict=True)
            answer = topic.answer.dump_json(topic.compute(request)).decode()
        except ValidationError:
            continue
        except SceneError as error:
            unclear = [p for p in error.problems if not (p.message and p.pointer.startswith("/"))]
            if unclear:
                raise AssertionError(f"{name}, mutation {seed}: {unclear}") from error
            continue
        except Exception as error:
            raise AssertionError(f"{name}, mutation {seed}") from error
        answered += 1
        assert not nonsense(answer), (name, seed)
        # A hang is what this is for, not a slow machine.
        assert time.process_time() - began < 10, (name, seed)
    assert answered > COUNT / 10
