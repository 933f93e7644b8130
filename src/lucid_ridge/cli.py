"""The command line behind `ridge`."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from pydantic import TypeAdapter, ValidationError

from lucid_ridge.calc.topics import TOPICS, Topic
from lucid_ridge.core.records import SceneError


def _problem(topic: Topic, problems: list[dict[str, str]]) -> int:
    print(
        json.dumps({"title": "The input cannot be computed.", "errors": problems}, indent=2, ensure_ascii=False),
        file=sys.stderr,
    )
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


def demo(arguments: argparse.Namespace) -> int:
    """Start the application; see `runtime.serve.demo`."""
    from lucid_ridge.runtime.cluster import ClusterError
    from lucid_ridge.runtime.serve import demo as run

    try:
        return run(arguments.port, arguments.empty)
    except (ClusterError, RuntimeError) as error:
        print(f"ridge: {error}", file=sys.stderr)
        return 1


def openapi(arguments: argparse.Namespace) -> int:
    """Write the OpenAPI document, for generating the front end's types."""
    from lucid_ridge.app.factory import Configuration, create_app, openapi_document

    app = create_app(Configuration("postgresql+psycopg://nobody@127.0.0.1/none"))
    arguments.path.write_text(json.dumps(openapi_document(app), indent=1, ensure_ascii=False, sort_keys=True) + "\n")
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
    starter = commands.add_parser("demo", help="start with demo data and print the address")
    starter.add_argument("--port", type=int, default=8420, help="port on loopback; another one if it is taken")
    starter.add_argument("--empty", action="store_true", help="a database of its own without demo data")
    starter.set_defaults(run=demo)
    writer = commands.add_parser("openapi", help="write the OpenAPI document to a file")
    writer.add_argument("path", type=Path)
    writer.set_defaults(run=openapi)
    arguments = parser.parse_args(argv)
    return int(arguments.run(arguments))


if __name__ == "__main__":
    sys.exit(main())
