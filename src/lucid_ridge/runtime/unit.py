"""A systemd unit that serves Lucid Ridge for the user who prints it."""

from __future__ import annotations

import getpass
from pathlib import Path

from lucid_ridge.runtime.folder import ROOT
from lucid_ridge.runtime.settings import Settings


def _quoted(text: str) -> str:
    """A word of a unit's command: percent signs are its own, and spaces part words."""
    plain = text.replace("\\", "\\\\").replace('"', '\\"').replace("%", "%%")
    return f'"{plain}"' if " " in plain or plain != text else plain


def unit_text(settings: Settings, file: Path | None) -> str:
    """The unit: the settings stay in their file, so that it need not be written anew with each."""
    data = settings.data.expanduser().absolute()
    command = [str(ROOT / "ridge"), "serve", "--data", str(data)]
    if file is not None:
        command += ["--settings", str(file.absolute())]
    return f"""# Put it at /etc/systemd/system/lucid-ridge.service, then: systemctl enable --now lucid-ridge
[Unit]
Description=Lucid Ridge
After=network.target

[Service]
User={getpass.getuser()}
ExecStart={" ".join(map(_quoted, command))}
Restart=on-failure
RestartSec=5
KillMode=mixed
TimeoutStopSec=60
UMask=0077
NoNewPrivileges={"no" if getpass.getuser() == "root" else "yes"}
PrivateTmp=yes

[Install]
WantedBy=multi-user.target
"""
