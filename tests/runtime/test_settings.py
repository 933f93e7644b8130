"""Settings: the command line before the environment, the environment before the file; what is wrong is named."""

from __future__ import annotations

import re
import shutil
import subprocess
import tomllib
from pathlib import Path

import pytest

from lucid_ridge import VERSION
from lucid_ridge.runtime.folder import ROOT
from lucid_ridge.runtime.settings import PREFIX, Settings, SettingsError, read_settings
from lucid_ridge.runtime.unit import unit_text
from lucid_ridge.runtime.upgrade import revisions


@pytest.fixture(autouse=True)
def nothing_set(monkeypatch):
    for name in Settings.model_fields:
        monkeypatch.delenv(PREFIX + name.upper(), raising=False)


def test_the_nearer_word_counts(tmp_path, monkeypatch):
    (tmp_path / "settings.toml").write_text("port = 1001\nthreads = 9\nbackups = false\n")
    monkeypatch.setenv("LUCID_RIDGE_PORT", "1002")
    found = read_settings(None, {"data": tmp_path})
    assert (found.port, found.threads, found.backups, found.processes) == (1002, 9, False, 2)
    assert read_settings(None, {"data": tmp_path, "port": 1003}).port == 1003
    other = tmp_path / "other.toml"
    other.write_text("threads = 3\n")
    assert read_settings(other, {"data": tmp_path}).threads == 3
    monkeypatch.setenv("LUCID_RIDGE_DATA", str(tmp_path))
    assert read_settings(None, {}).threads == 9


@pytest.mark.parametrize(
    ("text", "told"),
    [
        ("port = 0", "port"),
        ('port = "x"', "port"),
        ("prot = 1", "prot"),
        ("processes = 1000", "processes"),
        ("x = [", "no TOML"),
    ],
)
def test_what_is_set_wrong_is_named(tmp_path, text, told):
    (tmp_path / "settings.toml").write_text(text)
    with pytest.raises(SettingsError, match=told):
        read_settings(None, {"data": tmp_path})
    with pytest.raises(SettingsError, match="no file of settings"):
        read_settings(tmp_path / "none.toml", {})


def test_what_is_shown_can_be_read_again_and_holds_no_secret(tmp_path):
    url = "postgresql://me:very-secret@db/ridge"
    made = read_settings(None, {"data": tmp_path, "database_url": url, "port": 4711})
    shown = made.shown()
    assert "very-secret" not in shown and "very-secret" not in repr(made)
    again = Settings(**tomllib.loads(shown))
    assert again.model_dump(exclude={"database_url"}) == made.model_dump(exclude={"database_url"})
    for name in Settings.model_fields:
        assert name in shown


@pytest.mark.skipif(shutil.which("systemd-analyze") is None, reason="nothing here knows units")
@pytest.mark.parametrize("folder", ["plain", "my pictures", "100 % mine", 'a "quoted" one'])
def test_systemd_finds_nothing_wrong_with_the_unit(tmp_path, folder):
    data = tmp_path / folder
    data.mkdir()
    unit = tmp_path / "lucid-ridge.service"
    unit.write_text(unit_text(Settings(data=data), data / "settings.toml"))
    found = subprocess.run(["systemd-analyze", "verify", str(unit)], capture_output=True, text=True, check=False)
    assert (found.returncode, [line for line in found.stderr.splitlines() if "lucid-ridge" in line]) == (0, [])


def test_the_unit_starts_what_was_asked_for():
    made = Settings(data=Path("/srv/our pictures 100%"))
    text = unit_text(made, Path("/etc/lucid ridge.toml"))
    command = re.search(r"^ExecStart=(.*)$", text, re.MULTILINE)[1]
    assert '--data "/srv/our pictures 100%%"' in command
    assert '--settings "/etc/lucid ridge.toml"' in command
    assert command.startswith(str(ROOT / "ridge"))


def test_versions_and_revisions_agree_with_their_files():
    told = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["version"]
    assert told == VERSION
    found = revisions()
    assert found == sorted(found) and len(found) == len(list((ROOT / "migrations" / "versions").glob("0*.py")))
