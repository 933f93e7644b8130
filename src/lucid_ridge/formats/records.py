"""Records as JSON: what validates and writes each of them is worked out once.

Left to itself, the validation library works a record out anew wherever another one holds it, a few hundred times
over for a scene. Here each gets its schema when it is declared, and what holds it takes that.
"""

from __future__ import annotations

import pkgutil
from importlib import import_module
from types import ModuleType
from typing import Any

from pydantic import GetCoreSchemaHandler, TypeAdapter
from pydantic_core import CoreSchema

from lucid_ridge.core.records import declared

_HOOK = "__get_pydantic_core_schema__"


def settle(*packages: ModuleType) -> None:
    """Work out every record in these packages that has no schema yet; to be called before models are made of them."""
    for package in packages:
        for module in pkgutil.walk_packages(package.__path__, f"{package.__name__}."):
            import_module(module.name)
    for one in declared():
        if _HOOK not in one.__dict__:
            setattr(one, _HOOK, _kept(TypeAdapter(one).core_schema))


def _kept(schema: CoreSchema) -> staticmethod[[Any, GetCoreSchemaHandler], CoreSchema]:
    """The hook that the validation library asks a type for its schema by, answering with the one worked out already."""
    return staticmethod(lambda _source, _handler: schema)
