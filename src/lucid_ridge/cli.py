"""The command line behind `ridge`. Each command imports only what it needs: starting is then quick."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path


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
    """Write the OpenAPI document, for serving it and for generating the front end's types."""
    from lucid_ridge.app.factory import Configuration, create_app, openapi_document

    app = create_app(Configuration("postgresql+psycopg://nobody@127.0.0.1/none", described=True))
    arguments.path.write_text(json.dumps(openapi_document(app), indent=1, ensure_ascii=False, sort_keys=True) + "\n")
    return 0


def main(argv: list[str] | None = None) -> int:
    """Entry point."""
    argv = sys.argv[1:] if argv is None else argv
    if argv[:1] == ["calc"]:
        from lucid_ridge.calc.command import main as calc

        return calc(argv[1:])
    parser = argparse.ArgumentParser(prog="ridge", description="Lucid Ridge")
    commands = parser.add_subparsers(dest="command", required=True)
    commands.add_parser("calc", help="compute a topic from JSON on standard input")
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
