"""The command line behind `ridge`."""

from __future__ import annotations

import argparse
import json
import sys

from pydantic import TypeAdapter, ValidationError

from lucid_ridge.calc.topics import TOPICS, Topic
from lucid_ridge.core.records import SceneError


def _problem(topic: Topic, problems: list[dict[str, str]]) -> int:
    print(json.dumps({"title": "The input cannot be computed.", "errors": problems}, indent=2, ensure_ascii=False), file=sys.stderr)
    return 2


def calc(arguments: argparse.Namespace) -> int:
    """Read JSON on standard input, write the answer as JSON; 2 on bad input."""
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
        return _problem(
            topic,
            [{"pointer": "/" + "/".join(map(str, e["loc"])), "message": e["msg"]} for e in error.errors()],
        )
    except SceneError as error:
        return _problem(topic, [{"pointer": p.pointer, "message": p.message} for p in error.problems])
    sys.stdout.write(topic.answer.dump_json(answer, indent=2).decode() + "\n")
    return 0


def main(argv: list[str] | None = None) -> int:
    """Entry point."""
    parser = argparse.ArgumentParser(prog="ridge", description="Lucid Ridge")
    commands = parser.add_subparsers(dest="command", required=True)
    calculator = commands.add_parser("calc", help="compute a topic from JSON on standard input")
    listing = ", ".join(f"{name} ({topic.about})" for name, topic in TOPICS.items())
    calculator.add_argument("topic", choices=list(TOPICS), help=listing)
    calculator.add_argument("--schema", action="store_true", help="print the JSON schemas of request and answer")
    calculator.add_argument("--example", action="store_true", help="print an example request")
    calculator.set_defaults(run=calc)
    arguments = parser.parse_args(argv)
    return int(arguments.run(arguments))


if __name__ == "__main__":
    sys.exit(main())
