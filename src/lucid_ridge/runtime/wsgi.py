"""What gunicorn serves. Preparing the database happens here too, so that everything is imported once."""

from __future__ import annotations

import json
import os
from pathlib import Path

from lucid_ridge.app.factory import Configuration, create_app
from lucid_ridge.app.logs import write_json
from lucid_ridge.app.migrations import migrate
from lucid_ridge.calc.example import TARN_SCENE
from lucid_ridge.demo.load import ensure_photographer, load_demo
from lucid_ridge.demo.sample import DemoValley
from lucid_ridge.demo.years import note_past
from lucid_ridge.reports.evaluate import evaluate
from lucid_ridge.runtime.proxy import behind

write_json()
_root = Path(__file__).resolve().parents[3]
_url = os.environ["LUCID_RIDGE_DATABASE_URL"]
_files = Path(os.environ["LUCID_RIDGE_FILES"]) if "LUCID_RIDGE_FILES" in os.environ else None
_reach = json.loads(os.environ.get("LUCID_RIDGE_REACH", "{}"))
_backups = os.environ.get("LUCID_RIDGE_BACKUPS_FOLDER")
_prepare = os.environ.get("LUCID_RIDGE_PREPARE", "nothing")

if _prepare != "nothing":
    migrate(_url)
    ensure_photographer(_url)
if _prepare == "demo" and load_demo(_url, _files):
    note_past(_url)

application = create_app(
    Configuration(
        _url,
        files_folder=_files,
        web_folder=_root / "web" / "dist",
        forecast_url=os.environ.get("LUCID_RIDGE_FORECAST"),
        camera_url=os.environ.get("LUCID_RIDGE_CAMERA"),
        document=_root / "docs" / "openapi.json",
        valley=DemoValley(_url, _files, bool(os.environ.get("LUCID_RIDGE_WORKERS"))),
        workers=bool(os.environ.get("LUCID_RIDGE_WORKERS")),
        backups_folder=Path(_backups) if _backups else None,
        threads=int(os.environ.get("LUCID_RIDGE_THREADS_EACH", "8")),
        brings_back=bool(os.environ.get("LUCID_RIDGE_BRINGS_BACK")),
        object_store=os.environ.get("LUCID_RIDGE_OBJECT_STORE") or None,
        accounts=_reach.get("accounts", False),
        hosts=frozenset(_reach.get("hosts", ())),
        authority=Path(_reach["authority"]) if _reach.get("authority") else None,
    )
)
if _reach.get("proxy"):
    application.wsgi_app = behind(_reach["proxy"], application.wsgi_app)  # type: ignore[assignment,method-assign]
# The first evaluation loads the ephemeris; done before the workers fork, they share it.
evaluate(TARN_SCENE)
