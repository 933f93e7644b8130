"""The command line behind `ridge`. Each command imports only what it needs: starting is then quick."""

from __future__ import annotations

import argparse
import json
import sys
import time
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from lucid_ridge.runtime.settings import Settings


_TELL_EVERY_S = 5.0
_GIVEN = (
    "data", "port", "lan", "bind", "hosts", "certificate", "certificate_key", "behind_proxy", "accounts",
)  # fmt: skip
"""Settings that the command line may give; it gives none where nothing is said."""


def _told(run: Callable[[], int]) -> int:
    """Run a command; what stops it is said in a sentence, not in a traceback."""
    from lucid_ridge.runtime.errors import RUNTIME_ERRORS

    try:
        return run()
    except RUNTIME_ERRORS as error:
        print(f"ridge: {error}", file=sys.stderr)
        return 1


def demo(arguments: argparse.Namespace) -> int:
    """Start the application; see `runtime.serve.demo`."""
    from lucid_ridge.runtime.serve import demo as run

    return _told(lambda: run(arguments.port, arguments.empty))


def _settings(arguments: argparse.Namespace) -> Settings:
    from lucid_ridge.runtime.settings import read_settings

    given = {name: getattr(arguments, name, None) for name in _GIVEN}
    return read_settings(arguments.settings, {name: value for name, value in given.items() if value is not None})


def serve(arguments: argparse.Namespace) -> int:
    """Serve what somebody keeps; see `runtime.serve.serve_by`."""
    from lucid_ridge.runtime.serve import serve_by
    from lucid_ridge.runtime.unit import unit_text

    def go() -> int:
        settings = _settings(arguments)
        if arguments.show_settings:
            print(settings.shown())
            return 0
        if arguments.print_unit:
            print(unit_text(settings, arguments.settings), end="")
            return 0
        return serve_by(settings)

    return _told(go)


def backup(arguments: argparse.Namespace) -> int:
    """Write a backup, or verify one; see `runtime.keeping.back_up`."""
    from lucid_ridge.runtime.backup import verify_backup
    from lucid_ridge.runtime.keeping import back_up

    def go() -> int:
        made = verify_backup(arguments.file) if arguments.verify else back_up(_settings(arguments), arguments.file)
        files = len(made.parts) - 1
        size = sum(part.size for part in made.parts)
        done = "is whole" if arguments.verify else "written"
        print(
            f"{arguments.file} {done}: the database and {files} files, {size / 1e6:.1f} MB, of {made.made_at:%d %B %Y %H:%M} UTC."
        )
        return 0

    return _told(go)


def restore(arguments: argparse.Namespace) -> int:
    """Bring a backup back; see `runtime.keeping.bring_back`."""
    from lucid_ridge.runtime.keeping import bring_back

    def go() -> int:
        settings = _settings(arguments)
        made = bring_back(settings, arguments.file)
        print(f"Brought back into {settings.data}: what was kept on {made.made_at:%d %B %Y %H:%M} UTC.")
        return 0

    return _told(go)


def export(arguments: argparse.Namespace) -> int:
    """Write everything that somebody owns into a file; see `runtime.keeping.export`."""
    from lucid_ridge.runtime.keeping import export as run

    def go() -> int:
        made = run(_settings(arguments), arguments.file, arguments.of)
        print(
            f"{arguments.file} written: {len(made.parts)} parts, {sum(part.size for part in made.parts) / 1e6:.1f} MB."
        )
        return 0

    return _told(go)


def take_in(arguments: argparse.Namespace) -> int:
    """Take an archive in; see `runtime.keeping.take_in`."""
    from lucid_ridge.runtime.keeping import take_in as run

    def go() -> int:
        added, known = run(_settings(arguments), arguments.file, arguments.of)
        print(f"Taken in from {arguments.file}: {added} records are new, {known} were here already.")
        return 0

    return _told(go)


def bring(arguments: argparse.Namespace) -> int:
    """Bring in the pictures of a folder; see `runtime.keeping.bring`."""
    from lucid_ridge.app.problems import Refused
    from lucid_ridge.runtime.keeping import bring as run

    at = 0.0

    def told(doing: str, done: int, whole: int) -> None:
        nonlocal at
        if time.monotonic() > at + _TELL_EVERY_S:
            at = time.monotonic()
            print(f"{doing}: {done} of {whole}", file=sys.stderr)

    def go() -> int:
        try:
            made = run(_settings(arguments), arguments.folder, arguments.of, told)
        except Refused as error:
            print(f"ridge: {error.message}", file=sys.stderr)
            return 1
        except KeyboardInterrupt:
            print("ridge: stopped; the same command goes on from here.", file=sys.stderr)
            return 130
        print(made.text)
        for path, why in made.refused:
            print(f"  {path}: {why}")
        return 0

    return _told(go)


def worker(arguments: argparse.Namespace) -> int:
    """Run a worker; see `runtime.keeping.run_worker`."""
    import signal

    from lucid_ridge.runtime.keeping import run_worker

    signal.signal(signal.SIGTERM, signal.default_int_handler)
    return _told(lambda: run_worker(_settings(arguments)))


def invite(arguments: argparse.Namespace) -> int:
    """Print a link by which somebody comes in; see `runtime.keeping.invite`."""
    from lucid_ridge.runtime.keeping import invite as run
    from lucid_ridge.runtime.people import show_link

    def go() -> int:
        link = run(_settings(arguments), arguments.role, arguments.password_of)
        who = arguments.password_of or f"Somebody new, as {arguments.role}"
        show_link(link, f"{who}:")
        return 0

    return _told(go)


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
    kept = argparse.ArgumentParser(add_help=False)
    kept.add_argument("--data", type=Path, help="folder of database, files, log and backups")
    kept.add_argument("--settings", type=Path, help="file of settings; usually settings.toml in the folder")
    server = commands.add_parser("serve", parents=[kept], help="serve what you keep, on this machine")
    server.add_argument("--port", type=int, help="port that is listened on")
    server.add_argument("--lan", action="store_true", default=None, help="be reached from your network, over HTTPS")
    server.add_argument("--bind", help="be reached at this one address of your machine, over HTTPS")
    server.add_argument("--host", action="append", dest="hosts", help="a further name by which it is reached")
    server.add_argument(
        "--certificate", type=Path, help="a certificate for HTTPS as PEM; without, one of its own is made"
    )
    server.add_argument("--certificate-key", type=Path, help="the key of the certificate")
    server.add_argument("--behind-proxy", help="address from which a web server in front asks, which does HTTPS")
    server.add_argument("--accounts", action="store_true", default=None, help="have people sign in on this machine too")
    server.add_argument("--show-settings", action="store_true", help="print the settings that hold, and stop")
    server.add_argument("--print-unit", action="store_true", help="print a systemd unit that serves, and stop")
    server.set_defaults(run=serve)
    saver = commands.add_parser("backup", parents=[kept], help="write everything that is kept into one file")
    saver.add_argument("file", type=Path)
    saver.add_argument("--verify", action="store_true", help="only read a backup through and check every part of it")
    saver.set_defaults(run=backup)
    bringer = commands.add_parser("restore", parents=[kept], help="bring a backup back into a new folder")
    bringer.add_argument("file", type=Path)
    bringer.set_defaults(run=restore)
    for name, run, what, words in (
        ("export", export, "file", "write everything that somebody owns into one file"),
        ("import", take_in, "file", "take such a file in, beside what is there"),
        ("bring", bring, "folder", "bring in the pictures of a folder on this machine"),
    ):
        mover = commands.add_parser(name, parents=[kept], help=words)
        mover.add_argument(what, type=Path)
        mover.add_argument("--of", metavar="NAME", help="whose it is, where several people have accounts")
        mover.set_defaults(run=run)
    helper = commands.add_parser("worker", parents=[kept], help="carry out what goes on in the background")
    helper.set_defaults(run=worker)
    inviter = commands.add_parser("invite", parents=[kept], help="print a link by which somebody comes in")
    inviter.add_argument("--role", choices=("owner", "photographer", "viewer"), default="photographer")
    inviter.add_argument("--password-of", metavar="NAME", help="let somebody who has an account choose a new password")
    inviter.set_defaults(run=invite)
    writer = commands.add_parser("openapi", help="write the OpenAPI document to a file")
    writer.add_argument("path", type=Path)
    writer.set_defaults(run=openapi)
    arguments = parser.parse_args(argv)
    return int(arguments.run(arguments))


if __name__ == "__main__":
    sys.exit(main())
