"""A throwaway cluster for the tests of one run, with a migrated template to clone."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from uuid import uuid4

import psycopg

from lucid_ridge.app.migrations import migrate
from lucid_ridge.demo.load import ensure_photographer, load_demo
from lucid_ridge.runtime.cluster import Cluster


class Databases:
    """Makes databases as copies of a migrated one, empty or with the demo, whose files lie in ``files``."""

    def __init__(self, cluster: Cluster, files: Path) -> None:
        self.cluster = cluster
        self.files = files
        self._made: dict[bool, str] = {}

    def _execute(self, statement: str) -> None:
        url = self.cluster.url("postgres").replace("+psycopg", "")
        with psycopg.connect(url, autocommit=True) as connection:
            connection.execute(statement)

    def _template(self, demo: bool) -> str:
        if demo not in self._made:
            name = f"template_{'demo' if demo else 'empty'}"
            self._execute(f'CREATE DATABASE "{name}"')
            url = self.cluster.url(name)
            migrate(url)
            ensure_photographer(url)
            if demo:
                load_demo(url, self.files)
            # Sessions of the loader would keep the template from being copied.
            self._execute(f"SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = '{name}'")
            self._made[demo] = name
        return self._made[demo]

    def bare(self) -> str:
        """Address of a new database without a single table."""
        name = f"bare_{uuid4().hex[:12]}"
        self._execute(f'CREATE DATABASE "{name}"')
        return self.cluster.url(name)

    def fresh(self, demo: bool = False) -> str:
        """Address of a new database."""
        name = f"test_{uuid4().hex[:12]}"
        self._execute(f'CREATE DATABASE "{name}" TEMPLATE "{self._template(demo)}"')
        return self.cluster.url(name)


@contextmanager
def throwaway_databases() -> Iterator[Databases]:
    """A cluster that is gone afterwards."""
    with tempfile.TemporaryDirectory(prefix="lucid-ridge-test-", ignore_cleanup_errors=True) as folder:
        # The postgres user must be able to enter the folder.
        Path(folder).chmod(0o755)
        cluster = Cluster(Path(folder) / "cluster", durable=False)
        cluster.start()
        try:
            yield Databases(cluster, Path(folder) / "files")
        finally:
            cluster.stop()
