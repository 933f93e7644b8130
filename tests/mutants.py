"""How strong the tests are: a sample of single-point changes to the core, and which of them the tests notice.

`./ridge test mutants` draws a sample and lists what went unnoticed; `MUTANTS="7 60" ./ridge test mutants` draws sixty with another
seed. Not part of the usual run: a change that nobody notices costs all of the core's tests.

Each mutant is one changed operator, comparison, constant or condition in one module, in a copy of the tree; first the tests
that import the module run, then the others, until one fails.
"""

from __future__ import annotations

import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
CORE = Path("src/lucid_ridge/core")
WANTED = 0.88
LONGEST_S = 900

SWAPS: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.And: ast.Or, ast.Or: ast.And,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip


@dataclass(frozen=True)
class Mutant:
    """One change: in which module, at which line, from what to what, and the module's text with it."""

    module: Path
    line: int
    what: str
    text: str


def _inside(tree: ast.Module) -> Iterator[ast.AST]:
    """What functions do: their bodies without docstrings, defaults and annotations."""
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef):
            for statement in node.body:
                if not (isinstance(statement, ast.Expr) and isinstance(statement.value, ast.Constant)):
                    yield from ast.walk(statement)


def _changes(node: ast.AST) -> Iterator[tuple[str, Callable[[], None]]]:
    """Each change of one node: in words, and what makes it."""
    match node:
        case ast.Compare(ops=ops):
            for i, op in enumerate(ops):
                if type(op) in SWAPS:
                    swapped = SWAPS[type(op)]()
                    yield (
                        f"{type(op).__name__} to {type(swapped).__name__}",
                        lambda i=i, s=swapped: ops.__setitem__(i, s),
                    )
        case ast.BinOp(op=op) | ast.BoolOp(op=op) if type(op) in SWAPS:
            swapped = SWAPS[type(op)]()
            yield f"{type(op).__name__} to {type(swapped).__name__}", lambda: setattr(node, "op", swapped)
        case ast.Constant(value=int() | float() as value) if not isinstance(value, bool):
            other = value + 1 if isinstance(value, int) else value * 1.25 + 0.01
            yield f"{value} to {other}", lambda: setattr(node, "value", other)
        case ast.If(test=test) | ast.IfExp(test=test):
            yield "condition to False", lambda: setattr(node, "test", ast.copy_location(ast.Constant(False), test))
        case ast.UnaryOp(op=ast.USub() | ast.Not(), operand=operand):
            yield f"without {type(node.op).__name__}", lambda: node.__dict__.update(op=ast.UAdd(), operand=operand)


def every_point() -> list[tuple[Path, int]]:
    """Every change that there is: the module, and its number there."""
    found = []
    for path in sorted((ROOT / CORE).rglob("*.py")):
        tree = ast.parse(path.read_text(encoding="utf-8"))
        count = sum(1 for node in _inside(tree) for _ in _changes(node))
        found += [(path.relative_to(ROOT), k) for k in range(count)]
    return found


def mutant(module: Path, number: int) -> Mutant:
    """One change of a module, by its number."""
    tree = ast.parse((ROOT / module).read_text(encoding="utf-8"))
    node, (what, make) = [(node, change) for node in _inside(tree) for change in _changes(node)][number]
    make()
    return Mutant(module, getattr(node, "lineno", 0), what, ast.unparse(ast.fix_missing_locations(tree)))


def _tests(module: Path) -> list[str]:
    """The core's test files, those that import the module or its room first."""
    name = ".".join(module.with_suffix("").parts[1:])
    files = [*(ROOT / "tests/core").glob("test_*.py"), *(ROOT / "tests/reference").glob("test_*.py")]
    files = [path for path in files if path.name != "test_rooms.py"]

    def near(path: Path) -> tuple[bool, bool, str]:
        text = path.read_text(encoding="utf-8")
        return name not in text, name.rpartition(".")[0] not in text, path.name

    return [str(path.relative_to(ROOT)) for path in sorted(files, key=near)]


def noticed(one: Mutant) -> bool:
    """Whether a test fails with the change."""
    with tempfile.TemporaryDirectory() as folder:
        for name in ("src", "tests"):
            shutil.copytree(ROOT / name, Path(folder) / name, ignore=shutil.ignore_patterns("__pycache__"))
        shutil.copy(ROOT / "pyproject.toml", folder)
        (Path(folder) / one.module).write_text(one.text, encoding="utf-8")
        command = [sys.executable, "-m", "pytest", "-q", "-x", "-p", "no:cacheprovider", *_tests(one.module)]
        environment = {**os.environ, "PYTHONPATH": f"{folder}/src"}
        try:
            ran = subprocess.run(
                command, cwd=folder, env=environment, capture_output=True, timeout=LONGEST_S, check=False
            )
        except subprocess.TimeoutExpired:
            return True
        return ran.returncode != 0


def run(seed: int = 1, count: int = 40) -> bool:
    """Draw a sample, tell what went unnoticed, and whether enough was noticed."""
    points = random.Random(seed).sample(every_point(), count)
    sample = [mutant(*point) for point in points]
    caught = 0
    with ThreadPoolExecutor(os.cpu_count() or 1) as pool:
        for one, found in zip(sample, pool.map(noticed, sample), strict=True):
            caught += found
            if not found:
                print(f"unnoticed: {one.module}:{one.line}: {one.what}", flush=True)
    print(f"noticed {caught} of {count} (sample {seed}); {WANTED:.0%} are wanted")
    return caught >= WANTED * count


if __name__ == "__main__":
    sys.exit(0 if run(*(int(word) for word in sys.argv[1:])) else 1)
