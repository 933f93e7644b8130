"""Requests with something wrong, extreme or missing in them, drawn at random from a sound one."""

from __future__ import annotations

import copy
import json
import random
import string
from typing import Any

NUMBERS = (
    0, -0.0, 1, -1, 0.5, 1e-3, 0.01, 0.02, 0.1, 3, 7.5, 12, 45, 89.9, 90, 180, 359.99, 360, 1e3, 1e5, 1e9, 1e300, -1e300,
    5e-324, 1e-12, -3, -90, -180, 2000, 999999,
)  # fmt: skip
TEXTS = (
    "",
    " ",
    "x" * 300,
    "Ærøskøbing",
    "\u202egnol",
    "\x00",
    "nobody",
    "1",
    "level",
    "none",
    "UTC",
    "Pacific/Kiritimati",
)
TIMES = (
    "0001-01-01T00:00:00Z", "9999-12-31T23:59:59Z", "1900-01-01T00:00:00Z", "2050-12-31T23:59:59Z", "2026-06-21T12:00:00Z",
    "2026-12-21T00:00:00Z", "2026-06-21T12:00:00", "2026-06-21T12:00:00+14:00", "1969-12-31T23:59:59Z",
)  # fmt: skip

Path = tuple[str | int, ...]


def places(value: Any, path: Path = ()) -> list[Path]:
    """Paths to everything inside a document, itself not counted."""
    found: list[Path] = []
    items = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ()
    for key, inner in items:
        found += [(*path, key), *places(inner, (*path, key))]
    return found


def _at(document: Any, path: Path) -> Any:
    for key in path:
        document = document[key]
    return document


def _choices(schema: Any) -> dict[str, list[Any]]:
    """For each field's name what its schema lets it be: words, and the ends of its range."""
    found: dict[str, list[Any]] = {}
    definitions = schema.get("$defs", {})

    def values(part: Any, depth: int = 0) -> list[Any]:
        if depth > 6 or not isinstance(part, dict):
            return []
        made = list(part.get("enum", ())) + ([part["const"]] if "const" in part else [])
        made += [part[k] for k in ("minimum", "maximum", "exclusiveMinimum", "exclusiveMaximum") if k in part]
        if "minimum" in part and "maximum" in part:
            made += [part["minimum"] + (part["maximum"] - part["minimum"]) * share for share in (0.01, 0.3, 0.99)]
        if "$ref" in part:
            made += values(definitions.get(part["$ref"].rsplit("/", 1)[-1], {}), depth + 1)
        for one in part.get("anyOf", ()):
            made += values(one, depth + 1)
        return made

    for one in [schema, *definitions.values()]:
        for name, part in one.get("properties", {}).items():
            found.setdefault(name, []).extend(values(part))
    return found


def _mutate(rng: random.Random, document: Any, choices: dict[str, list[Any]]) -> None:
    every = places(document)
    if not every:
        return
    # What a request is mostly of, numbers in deep records, else crowds out its upper fields.
    path = rng.choice(every if rng.random() < 0.7 else [p for p in every if len(p) <= 3] or every)
    parent, key = _at(document, path[:-1]), path[-1]
    old = parent[key]
    name = next((one for one in reversed(path) if isinstance(one, str)), "")
    allowed = choices.get(name, [])
    draw = rng.random()
    if allowed and draw < 0.5:
        parent[key] = rng.choice(allowed)
    elif isinstance(old, bool):
        parent[key] = not old
    elif isinstance(old, (int, float)) and draw < 0.8:
        parent[key] = old * 10 ** rng.uniform(-3, 3) if rng.random() < 0.6 else rng.choice(NUMBERS)
    elif isinstance(old, str) and draw < 0.85:
        parent[key] = rng.choice(TIMES) if "utc" in name else rng.choice(TEXTS)
    elif isinstance(old, list) and draw < 0.85:
        shape = rng.random()
        if shape < 0.3 or not old:
            parent[key] = []
        elif shape < 0.6:
            parent[key] = [*old, copy.deepcopy(rng.choice(old))]
        elif shape < 0.8:
            parent[key] = [x for x in old if rng.random() < 0.5]
        else:
            rng.shuffle(old)
    elif draw < 0.9:
        parent[key] = None
    elif draw < 0.95 and isinstance(parent, dict):
        del parent[key]
    else:
        parent[key] = rng.choice([{}, [], "x", -1, True, "".join(rng.choices(string.printable, k=12))])


def mutation(seed: int, example: Any, schema: Any) -> str:
    """A request as JSON, the same for the same seed: the example with one to four things changed."""
    rng = random.Random(seed)
    document = copy.deepcopy(example)
    choices = _choices(schema)
    for _ in range(rng.choice([1, 1, 2, 3, 4])):
        _mutate(rng, document, choices)
    return json.dumps(document)
