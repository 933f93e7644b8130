"""What is told of each request: a line in the log, and figures for whoever watches over a server."""

from __future__ import annotations

import logging
import os
import time

from flask import Flask, Response, g, request
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Counter, Histogram, generate_latest
from prometheus_client.core import GaugeMetricFamily
from prometheus_client.multiprocess import MultiProcessCollector
from prometheus_client.registry import REGISTRY
from sqlalchemy import func, select
from werkzeug.exceptions import NotFound

from lucid_ridge import VERSION
from lucid_ridge.app.database import Database
from lucid_ridge.app.jobs.tables import JobRow
from lucid_ridge.app.problems import request_id

_LOG = logging.getLogger("lucid_ridge.requests")
_LOOPBACK = ("127.0.0.1", "::1")
_TAKES = Histogram(
    "lucid_ridge_request_seconds",
    "How long requests take",
    ["route", "method"],
    buckets=(0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 30),
)
_ANSWERS = Counter("lucid_ridge_answers", "Answers by their status", ["route", "method", "status"])
# Each word that a client makes up would be a figure of its own, for ever.
_METHODS = ("GET", "HEAD", "POST", "PUT", "DELETE", "OPTIONS", "PATCH")
# What nobody needs a line for: asked every second by those who watch.
_QUIET = ("health.read_live", "health.read_ready", "metrics")


def _begin() -> None:
    g.began = time.perf_counter()


def _route() -> str:
    """The pattern of the address that was asked for: neither ids nor what stands behind a question mark."""
    return request.url_rule.rule if request.url_rule is not None else "none"


def _tell(response: Response) -> Response:
    took = time.perf_counter() - g.get("began", time.perf_counter())
    route, method = _route(), request.method if request.method in _METHODS else "other"
    _TAKES.labels(route, method).observe(took)
    _ANSWERS.labels(route, method, response.status_code).inc()
    if request.endpoint not in _QUIET and request.path.startswith("/api/"):
        _LOG.info(
            "request",
            extra={
                "route": route,
                "method": method,
                "status": response.status_code,
                "ms": round(took * 1000, 1),
                "request": request_id(),
            },
        )
    return response


class _Jobs:
    """How many jobs there are in each state, counted when somebody asks."""

    def __init__(self, database: Database) -> None:
        self._database = database

    def collect(self) -> list[GaugeMetricFamily]:
        found = GaugeMetricFamily("lucid_ridge_jobs", "Background work by its state", labels=["kind", "state"])
        with self._database.transaction() as session:
            for kind, state, count in session.execute(
                select(JobRow.kind, JobRow.state, func.count()).group_by(JobRow.kind, JobRow.state)
            ):
                found.add_metric([kind, state], count)
        version = GaugeMetricFamily("lucid_ridge_version", "The program that runs", labels=["version"])
        version.add_metric([VERSION], 1)
        return [found, version]


def _figures(database: Database) -> bytes:
    registry = CollectorRegistry()
    registry.register(_Jobs(database))
    if "PROMETHEUS_MULTIPROC_DIR" in os.environ:
        # Every web process writes its figures there; together they are the server's.
        MultiProcessCollector(registry)  # type: ignore[no-untyped-call]
        return generate_latest(registry)
    return generate_latest(REGISTRY) + generate_latest(registry)


def observe(app: Flask) -> None:
    """Tell of every request, and answer on this machine what Prometheus asks for."""
    app.before_request(_begin)
    app.after_request(_tell)

    @app.route("/metrics")
    def metrics() -> Response:
        if request.remote_addr not in _LOOPBACK:
            raise NotFound("Figures are told on this machine alone.")
        return Response(_figures(app.extensions["database"]), content_type=CONTENT_TYPE_LATEST)
