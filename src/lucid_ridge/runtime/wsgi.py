"""What gunicorn serves."""

from __future__ import annotations

import os
from pathlib import Path

from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.core.technique.evaluate import evaluate

application = create_app(
    Configuration(
        database_url=os.environ["LUCID_RIDGE_DATABASE_URL"],
        web_folder=Path(__file__).resolve().parents[3] / "web" / "dist",
    )
)
# The first evaluation loads the ephemeris; done before the workers fork, they share it.
evaluate(TARN_SCENE)
