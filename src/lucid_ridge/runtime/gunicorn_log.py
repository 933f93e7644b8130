"""The web server's own words, in the same form as everything else in the log."""

from __future__ import annotations

from typing import Any

from gunicorn.glogging import Logger

from lucid_ridge.app.logs import handler


class JsonLogger(Logger):  # type: ignore[misc]
    """Writes JSON; what is asked for is told by the application, without addresses and questions."""

    def setup(self, cfg: Any) -> None:  # noqa: ANN401  # as the library has it
        """Take the settings over."""
        super().setup(cfg)
        self.error_log.handlers = [handler()]
        self.error_log.propagate = False
