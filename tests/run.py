"""Run all checks, or the parts named: style types layers web core reference app runtime browser endurance mutants."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import ExitStack
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
BIN = Path(sys.executable).parent


def call(*command: str, folder: Path = ROOT) -> bool:
    """Run a command; whether it succeeded."""
    return subprocess.run(command, cwd=folder, check=False).returncode == 0


def pytest_part(name: str) -> Callable[[], bool]:
    return lambda: call(sys.executable, "-m", "pytest", f"tests/{name}")


def style() -> bool:
    checked = call(str(BIN / "ruff"), "check", "-q", ".")
    return call(str(BIN / "ruff"), "format", "-q", "--check", "src", "tests", "bench") and checked


def stale_types() -> bool:
    """The OpenAPI document and the TypeScript types made from it must be those of the code."""
    with tempfile.TemporaryDirectory() as folder:
        document, types = Path(folder) / "openapi.json", Path(folder) / "schema.d.ts"
        made = call(sys.executable, "-m", "lucid_ridge.cli", "openapi", str(document))
        command = ["npx", "--no-install", "openapi-typescript", str(document), "-o", str(types)]
        made = made and subprocess.run(
            [*command, "--default-non-nullable=false"], cwd=ROOT / "web", check=False, capture_output=True
        ).returncode == 0  # fmt: skip
        kept = {document: ROOT / "docs/openapi.json", types: ROOT / "web/src/api/schema.d.ts"}
        for fresh, old in kept.items():
            if made and fresh.read_bytes() != old.read_bytes():
                print(f"{old.relative_to(ROOT)} is stale: run ./ridge types")
                made = False
    return made


def web() -> bool:
    folder = ROOT / "web"
    linted = call("npx", "--no-install", "eslint", "src", folder=folder)
    linted = call("npx", "--no-install", "prettier", "--check", "--log-level", "warn", "src", folder=folder) and linted
    typed = call("npx", "--no-install", "tsc", "-b", folder=folder)
    return call("npx", "--no-install", "vitest", "run", "--silent", folder=folder) and linted and typed


def endurance() -> bool:
    """A hundred kills at random moments while clients write; another number by LUCID_RIDGE_ROUNDS."""
    os.environ.setdefault("LUCID_RIDGE_ROUNDS", "100")
    return call(sys.executable, "-m", "pytest", "tests/runtime/test_endurance.py")


PARTS: dict[str, Callable[[], bool]] = {
    "style": style,
    "types": lambda: call(str(BIN / "mypy")),
    "layers": lambda: call(str(BIN / "lint-imports"), "--no-cache"),
    "stale": stale_types,
    "web": web,
    "core": pytest_part("core"),
    "reference": pytest_part("reference"),
    "app": pytest_part("app"),
    "runtime": pytest_part("runtime"),
    "browser": pytest_part("browser"),
    "endurance": endurance,
    "mutants": lambda: call(sys.executable, "-m", "tests.mutants", *os.environ.get("MUTANTS", "").split()),
}
"""Every part; endurance and mutants only run when they are named, `MUTANTS="SEED COUNT"` draws another sample of them."""


LANES: tuple[tuple[str, ...], ...] = (
    ("style", "types", "layers", "stale", "web", "core", "reference", "app", "runtime"),
    ("browser",),
)
"""Parts that run one after another, beside those of the other lane: two cores are busy all the time."""
Results = dict[str, tuple[bool, float]]


def run_parts(names: list[str]) -> Results:
    """Run parts in order; all of them even when one fails."""
    results = {}
    for name in names:
        print(f"\n== {name}", flush=True)
        start = time.monotonic()
        good = PARTS[name]()
        results[name] = (good, time.monotonic() - start)
    return results


def run_lanes() -> Results:
    """Run every part, lane beside lane; what the lanes behind the first say is shown when they have ended."""
    first, *others = LANES
    with ExitStack() as stack:
        running = []
        for lane in others:
            told = stack.enter_context(tempfile.TemporaryFile("w+"))
            started = time.monotonic()
            command = [sys.executable, __file__, *lane]
            running.append((lane, started, told, subprocess.Popen(command, cwd=ROOT, stdout=told, stderr=told)))
        results = run_parts(list(first))
        for lane, started, told, process in running:
            good = process.wait() == 0
            told.seek(0)
            print(told.read(), flush=True)
            results[" and ".join(lane)] = (good, time.monotonic() - started)
    return results


def main() -> int:
    """Run the parts named one after another, or all of them in lanes."""
    os.environ.setdefault("PYTHONTZPATH", "")
    chosen = sys.argv[1:] or list(PARTS)
    unknown = [name for name in chosen if name not in PARTS]
    if unknown:
        print(f"no such part: {', '.join(unknown)}; there are {', '.join(PARTS)}")
        return 2
    results = run_parts(chosen) if sys.argv[1:] else run_lanes()
    print()
    for name, (good, seconds) in results.items():
        print(f"{name:<18} {'passed' if good else 'FAILED'}  {seconds:6.1f} s")
    failed = sum(not good for good, _ in results.values())
    print(f"parts: {len(results) - failed} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
