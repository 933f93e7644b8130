"""The log: one JSON object a line, and nothing in it that people wrote, or where they are."""

from __future__ import annotations

import logging
import sys

import structlog
from structlog.typing import Processor

_SHARED: tuple[Processor, ...] = (
    structlog.stdlib.add_log_level,
    structlog.stdlib.add_logger_name,
    structlog.processors.TimeStamper(fmt="iso", utc=True),
    structlog.processors.StackInfoRenderer(),
    structlog.processors.format_exc_info,
)


def formatter() -> logging.Formatter:
    """What makes a line of a record, whichever part of the program it comes from."""
    return structlog.stdlib.ProcessorFormatter(
        foreign_pre_chain=[structlog.stdlib.ExtraAdder(), *_SHARED],
        processors=[
            structlog.stdlib.ProcessorFormatter.remove_processors_meta,
            structlog.processors.JSONRenderer(sort_keys=True),
        ],
    )


def handler() -> logging.Handler:
    """Writes records to the standard error, as JSON."""
    made = logging.StreamHandler(sys.stderr)
    made.setFormatter(formatter())
    return made


def write_json() -> None:
    """Have everything that is logged from now on written to the standard error as JSON."""
    structlog.configure(
        processors=[*_SHARED, structlog.stdlib.ProcessorFormatter.wrap_for_formatter],
        wrapper_class=structlog.stdlib.BoundLogger,
        logger_factory=structlog.stdlib.LoggerFactory(),
        cache_logger_on_first_use=True,
    )
    root = logging.getLogger()
    root.handlers = [handler()]
    root.setLevel(logging.INFO)
    # The queue's library tells of each of its steps, with what it was given.
    logging.getLogger("procrastinate").setLevel(logging.WARNING)
