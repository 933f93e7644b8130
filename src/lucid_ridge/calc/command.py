"""`ridge calc`: a topic from JSON on standard input to JSON on standard output."""

from __future__ import annotations

import argparse
import json
import sys

from pydantic import TypeAdapter, ValidationError

from lucid_ridge.calc.topics import TOPICS
from lucid_ridge.core.records import SceneError


def _refuse(problems: list[dict[str, str]]) -> int:
    document = {"title": "The input cannot be computed.", "errors": problems}
    print(json.dumps(document, indent=2, ensure_ascii=False), file=sys.stderr)
    return 2


def main(argv: list[str]) -> int:
    """Run one topic; 2 on bad input, with the fields at fault as JSON on standard error."""
    parser = argparse.ArgumentParser(prog="ridge calc", description=__doc__)
    listing = "; ".join(f"{name}: {topic.about}" for name, topic in TOPICS.items())
    parser.add_argument("topic", choices=list(TOPICS), help=listing)
    parser.add_argument("--schema", action="store_true", help="print the JSON schemas of request and answer")
    parser.add_argument("--example", action="store_true", help="print an example request")
    arguments = parser.parse_args(argv)
    topic = TOPICS[arguments.topic]
    if arguments.schema:
        schema = {
            "request": topic.request.model_json_schema(),
            "answer": TypeAdapter.json_schema(topic.answer, mode="serialization"),
        }
        print(json.dumps(schema, indent=2, ensure_ascii=False))
        return 0
    if arguments.example:
        print(topic.example.model_dump_json(indent=2))
        return 0
    try:
        request = topic.request.model_validate_json(sys.stdin.buffer.read(), strict=True)
        answer = topic.compute(request)
    except ValidationError as error:
        found = error.errors(include_url=False, include_input=False)
        return _refuse([{"pointer": "/" + "/".join(map(str, e["loc"])), "message": e["msg"]} for e in found])
    except SceneError as error:
        return _refuse([{"pointer": p.pointer, "message": p.message} for p in error.problems])
    sys.stdout.write(topic.answer.dump_json(answer, indent=2).decode() + "\n")
    return 0
