"""What somebody may set about how Lucid Ridge runs: by the environment, by a file, by the command line."""

from __future__ import annotations

import json
import os
import tomllib
from pathlib import Path
from typing import Annotated, Any

from pydantic import Field, SecretStr, ValidationError
from pydantic_settings import BaseSettings, PydanticBaseSettingsSource, SettingsConfigDict, TomlConfigSettingsSource

from lucid_ridge.runtime.folder import STATE

PREFIX = "LUCID_RIDGE_"
FILE_NAME = "settings.toml"


class SettingsError(RuntimeError):
    """Something is set that cannot be; says where and what to do."""


def usual_folder() -> Path:
    """Where everything is kept when nobody says otherwise: with this copy, or with the user's data if it is elsewhere."""
    data = os.environ.get("XDG_DATA_HOME")
    return Path(data) / "lucid-ridge" if data else STATE / "main"


class Settings(BaseSettings):
    """Settings of `ridge serve`. Each may stand in the environment as LUCID_RIDGE_ and its name in capitals."""

    model_config = SettingsConfigDict(env_prefix=PREFIX, extra="forbid", frozen=True)

    data: Annotated[Path, Field(description="folder of database, files, log and backups")] = Field(
        default_factory=usual_folder
    )
    port: Annotated[int, Field(ge=1, le=65535, description="port that is listened on")] = 8420
    lan: Annotated[bool, Field(description="reached from the network this machine is in; people sign in then")] = False
    bind: Annotated[
        str | None, Field(description="one address to be reached at, instead of all; people sign in then")
    ] = None
    hosts: Annotated[list[str], Field(description="further names by which it is reached")] = []
    certificate: Annotated[
        Path | None,
        Field(description="certificate for HTTPS as PEM, with those that vouch for it; none: one of its own"),
    ] = None
    certificate_key: Annotated[Path | None, Field(description="the certificate's key, as PEM")] = None
    behind_proxy: Annotated[
        str | None,
        Field(description="address from which a web server in front asks, which does HTTPS; name the hosts too"),
    ] = None
    accounts: Annotated[bool, Field(description="people sign in even where only this machine reaches it")] = False
    database_url: Annotated[
        SecretStr | None,
        Field(description="address of a PostgreSQL server that is not ours; none: one of its own is run"),
    ] = None
    object_store: Annotated[
        str | None,
        Field(
            pattern=r"^[a-z0-9]+://[^\s]+$",
            description="store in which files lie, such as s3://bucket/lucid-ridge; none: the data folder alone",
        ),
    ] = None
    camera_url: Annotated[str | None, Field(description="address of a camera; none: frames are taken by hand")] = None
    forecast_url: Annotated[str | None, Field(description="address of a forecast source; none: no forecast")] = None
    processes: Annotated[int, Field(ge=1, le=64, description="web processes")] = 2
    threads: Annotated[int, Field(ge=1, le=64, description="requests that each process answers at a time")] = 8
    workers: Annotated[
        int,
        Field(ge=0, le=16, description="processes for what goes on in the background; none: ./ridge worker does it"),
    ] = 1
    backups: Annotated[bool, Field(description="a backup a day, 7 days, 4 weeks and 12 months kept")] = True

    @classmethod
    def settings_customise_sources(
        cls,
        settings_cls: type[BaseSettings],
        init_settings: PydanticBaseSettingsSource,
        env_settings: PydanticBaseSettingsSource,
        dotenv_settings: PydanticBaseSettingsSource,
        file_secret_settings: PydanticBaseSettingsSource,
    ) -> tuple[PydanticBaseSettingsSource, ...]:
        """The command line goes before the environment, and that before the file."""
        file = settings_cls.model_config.get("toml_file")
        found = (TomlConfigSettingsSource(settings_cls),) if file else ()
        return (init_settings, env_settings, *found)

    def shown(self) -> str:
        """The settings as a file of settings, without secrets."""
        lines = []
        for name, field in type(self).model_fields.items():
            value = getattr(self, name)
            lines.append(f"# {field.description}; or {PREFIX}{name.upper()}")
            if value is None:
                lines.append(f"# {name} =")
            elif isinstance(value, SecretStr):
                lines.append(f"# {name} is set, and not shown")
            else:
                lines.append(f"{name} = {_toml(value)}")
        return "\n".join(lines)


def _toml(value: object) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    if isinstance(value, list):
        return f"[{', '.join(map(_toml, value))}]"
    return str(value) if isinstance(value, int) else json.dumps(str(value))


def read_settings(file: Path | None, given: dict[str, Any]) -> Settings:
    """The settings from a file (that of the data folder when none is named), the environment, and what was *given*.

    Raises
    ------
    SettingsError
        If something is set that cannot be, by name.

    """
    if file is not None and not file.is_file():
        raise SettingsError(f"There is no file of settings at {file}.")
    try:
        folder = Settings(**given).data
        chosen = file or folder / FILE_NAME

        class FromFile(Settings):
            model_config = SettingsConfigDict(toml_file=chosen if chosen.is_file() else None)

        return Settings(**FromFile(**given).model_dump())
    except tomllib.TOMLDecodeError as error:
        raise SettingsError(f"{chosen} is no TOML: {error}.") from None
    except ValidationError as error:
        wrong = "; ".join(f"{'.'.join(map(str, one['loc']))}: {one['msg']}" for one in error.errors())
        raise SettingsError(
            f"Something is set that cannot be. {wrong}. It stands on the command line, in the environment as "
            f"{PREFIX}..., or in {file or FILE_NAME}."
        ) from None
