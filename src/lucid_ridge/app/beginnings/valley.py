"""The sample valley, as the application sees it: something that can be put beside one's own and taken away again."""

from __future__ import annotations

from typing import Protocol


class SampleValley(Protocol):
    """Sample data that comes with the application."""

    def is_there(self) -> bool:
        """Whether any of it is there."""

    def load(self) -> None:
        """Put it beside what is there, or bring it back."""

    def remove(self) -> None:
        """Take it away; what somebody made with it stays."""
