"""A feature's routes, and whether they are described for the OpenAPI document.

Describing takes seconds at every start and serving does not need it: the document is kept in ``docs/openapi.json``,
and a check says when it is stale. Only the command that writes it asks for descriptions, so routes are noted first and
made into a blueprint when it is known what for.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal, TypeVar

from flask import Response
from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag

from lucid_ridge.app.responses import BARRED

Route = TypeVar("Route", bound=Callable[..., Response])
Method = Literal["get", "post", "put", "delete"]


class Feature:
    """Where the routes of a feature hang: `get`, `post`, `put` and `delete` are decorators, as those of a blueprint."""

    def __init__(self, name: str, import_name: str, url_prefix: str) -> None:
        self._place = (name, import_name, url_prefix)
        self._routes: list[tuple[Method, str, dict[str, Any], Callable[..., Response]]] = []

    def _noted(self, method: Method, rule: str, options: dict[str, Any]) -> Callable[[Route], Route]:
        def note(route: Route) -> Route:
            self._routes.append((method, rule, options, route))
            return route

        return note

    def get(self, rule: str, **options: Any) -> Callable[[Route], Route]:
        """A route that only reads."""
        return self._noted("get", rule, options)

    def post(self, rule: str, **options: Any) -> Callable[[Route], Route]:
        """A route that makes or computes something."""
        return self._noted("post", rule, options)

    def put(self, rule: str, **options: Any) -> Callable[[Route], Route]:
        """A route that may be called again without doing more."""
        return self._noted("put", rule, options)

    def delete(self, rule: str, **options: Any) -> Callable[[Route], Route]:
        """A route that takes something away."""
        return self._noted("delete", rule, options)

    def blueprint(self, described: bool) -> APIBlueprint:
        """The routes, ready to be registered."""
        name, import_name, url_prefix = self._place
        made = APIBlueprint(
            name, import_name, url_prefix=url_prefix, abp_tags=[Tag(name=name)], abp_responses=BARRED, doc_ui=described
        )
        for method, rule, options, route in self._routes:
            getattr(made, method)(rule, **options)(route)
        return made
