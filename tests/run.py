"""Run all checks, or the parts named: style types layers web core reference app browser."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
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
    typed = call("npx", "--no-install", "tsc", "-b", folder=folder)
    return call("npx", "--no-install", "vitest", "run", "--silent", folder=folder) and linted and typed


PARTS: dict[str, Callable[[], bool]] = {
    "style": style,
    "types": lambda: call(str(BIN / "mypy")),
    "layers": lambda: call(str(BIN / "lint-imports"), "--no-cache"),
    "stale": stale_types,
    "web": web,
    "core": pytest_part("core"),
    "reference": pytest_part("reference"),
    "app": pytest_part("app"),
    "browser": pytest_part("browser"),
}


BESIDE = "browser"
"""On two cores it takes about as long as all the others together, and waits for half of that."""
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


def run_beside(names: list[str], beside: str) -> Results:
    """Run parts while another, which mostly waits, runs beside them; its output is shown when it has ended."""
    start = time.monotonic()
    with tempfile.TemporaryFile("w+") as told:
        other = subprocess.Popen([sys.executable, __file__, beside], cwd=ROOT, stdout=told, stderr=told)
        results = run_parts(names)
        good = other.wait() == 0
        told.seek(0)
        print(told.read(), flush=True)
    return results | {beside: (good, time.monotonic() - start)}


def main() -> int:
    """Run the parts named, or all of them: the browser's beside the others, when the front end is built already."""
    os.environ.setdefault("PYTHONTZPATH", "")
    chosen = sys.argv[1:] or list(PARTS)
    unknown = [name for name in chosen if name not in PARTS]
    if unknown:
        print(f"no such part: {', '.join(unknown)}; there are {', '.join(PARTS)}")
        return 2
    results = run_parts(chosen) if sys.argv[1:] else run_beside([n for n in PARTS if n != BESIDE], BESIDE)
    print()
    for name, (good, seconds) in results.items():
        print(f"{name:<10} {'passed' if good else 'FAILED'}  {seconds:6.1f} s")
    failed = sum(not good for good, _ in results.values())
    print(f"parts: {len(results) - failed} passed, {failed} failed")
    return 1 if failed else 0


if __name__ == "__main__":
    sys.exit(main())
