"""A feature's routes, and whether they are described for the OpenAPI document.

Describing takes seconds at every start and serving does not need it: the document is kept in ``docs/openapi.json``,
and a check says when it is stale. Only the command that writes it asks for descriptions.
"""

from __future__ import annotations

import os

from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag

VARIABLE = "LUCID_RIDGE_DESCRIBE"


def feature(name: str, import_name: str, url_prefix: str) -> APIBlueprint:
    """Where the routes of a feature hang."""
    described = os.environ.get(VARIABLE) == "1"
    return APIBlueprint(name, import_name, url_prefix=url_prefix, abp_tags=[Tag(name=name)], doc_ui=described)
