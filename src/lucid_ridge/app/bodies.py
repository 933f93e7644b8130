"""Bases of request bodies and shared path models."""

from __future__ import annotations

from typing import Any, Self
from uuid import UUID

from flask import has_request_context, request
from pydantic import BaseModel, ConfigDict


class JsonBody(BaseModel):
    """A request body, validated strictly from the JSON that was sent.

    Strict means that text is not taken for a number. The framework would hand over an already
    parsed object, from which a UUID or a time could not be told from text any more; so the bytes
    of the request are read instead.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    @classmethod
    def model_validate(cls, obj: Any, **how: Any) -> Self:
        """Validate what is given; where that is the body of the current request as parsed, its bytes."""
        if has_request_context() and obj is request.get_json(silent=True):
            return cls.model_validate_json(request.get_data(), strict=True)
        return super().model_validate(obj, **how)


class IdPath(BaseModel):
    """The id of one record."""

    id: UUID
