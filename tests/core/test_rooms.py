"""What belongs in which room: the core computes, reports speak."""

from __future__ import annotations

import ast
from pathlib import Path

import pytest

import lucid_ridge
import lucid_ridge.core

CORE = Path(lucid_ridge.core.__file__).parent
MODULES = sorted(path for path in CORE.rglob("*.py") if path.name != "check.py")
"""The checks of a scene make errors and nothing else."""
ROOMS = sorted(path for path in CORE.iterdir() if path.is_dir() and path.name != "__pycache__")


ERRORS = {"FieldProblem", "NoSlices", "ValueError", "__init__", "missing"}
"""What errors are made with."""


def _aside(node: ast.AST) -> bool:
    """Whether what a node holds is a docstring, an error's message, or an entry of a table of the trade."""
    match node:
        case ast.Expr(value=ast.Constant()) | ast.Raise() | ast.keyword(arg="name" | "source"):
            return True
        case ast.Call(func=ast.Name(id=name) | ast.Attribute(attr=name)):
            return name in ERRORS
        case ast.Assign(targets=[ast.Name(id="message" | "problem")]):
            return True
        case ast.FunctionDef(name=name):
            return name.endswith("_problem")
    return False


def _spoken(tree: ast.AST) -> list[str]:
    """Strings of three words or more that the core has no business to say."""
    aside = {id(inner) for node in ast.walk(tree) if _aside(node) for inner in ast.walk(node)}
    strings = (node for node in ast.walk(tree) if isinstance(node, ast.Constant) and isinstance(node.value, str))
    return [node.value for node in strings if id(node) not in aside and len(node.value.split()) >= 3]


@pytest.mark.parametrize("path", MODULES, ids=lambda path: str(path.relative_to(CORE)))
def test_the_core_holds_no_sentence_for_a_screen(path):
    assert _spoken(ast.parse(path.read_text(encoding="utf-8"))) == []


@pytest.mark.parametrize("room", ROOMS, ids=lambda path: path.name)
def test_a_room_can_be_taken_in_at_a_glance(room):
    modules = [path for path in room.glob("*.py") if path.name != "__init__.py"]
    assert len(modules) <= 21
    for path in modules:
        assert len(path.read_text(encoding="utf-8").splitlines()) <= 350, path.name


SOURCES = sorted(Path(lucid_ridge.__file__).parent.rglob("*.py"))
LONGEST = 60


@pytest.mark.parametrize("path", SOURCES, ids=lambda path: str(path.relative_to(SOURCES[0].parent)))
def test_a_function_fits_on_a_screen_or_says_why_not(path):
    text = path.read_text(encoding="utf-8")
    lines = text.splitlines()
    for node in ast.walk(ast.parse(text)):
        if isinstance(node, ast.FunctionDef) and (node.end_lineno or 0) - node.lineno >= LONGEST:
            first = min([node.lineno, *(one.lineno for one in node.decorator_list)])
            assert lines[first - 2].startswith("# Long: "), f"{node.name} has more than {LONGEST} lines"
