"""Records as JSON: what validates and writes each of them is worked out once.

Left to itself, the validation library works a record out anew wherever another one holds it, a few hundred times
over for a scene. Here each gets its schema when it is declared, and what holds it takes that.
"""

from __future__ import annotations

import pkgutil
from importlib import import_module
from types import ModuleType

from pydantic import TypeAdapter

from lucid_ridge.core.records import declared

_KEPT = "__pydantic_core_schema__"


def settle(*packages: ModuleType) -> None:
    """Work out every record in these packages that has no schema yet; to be called before models are made of them."""
    for package in packages:
        for module in pkgutil.walk_packages(package.__path__, f"{package.__name__}."):
            import_module(module.name)
    for one in declared():
        if _KEPT not in one.__dict__:
            setattr(one, _KEPT, TypeAdapter(one).core_schema)
