"""A person's settings for all logbooks: who records, the usual rig, how sizes are shown, dark figures, the pager."""

from __future__ import annotations

from collections.abc import Mapping
from pathlib import Path
from typing import Literal

import msgspec

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.log.faults import suggest
from metrograph.log.quantities.units import Family

EXPECTED: Mapping[str, str | tuple[str, ...]] = {
    "reviewer": "a name",
    "rig": "the id of a rig",
    "sizes": ("binary", "decimal"),
    "theme": ("light", "dark"),
    "pager": ("yes", "no"),
    "archive": "a folder, s3://BUCKET/FOLDER and the like",
    "player": "a command, with {film} and {at} in it: the file, and the seconds it is to begin at",
}
"""What each setting may hold: one of some words, or what is described."""

_LONGEST = 200  # letters of a value


class Preferences(msgspec.Struct, frozen=True, omit_defaults=True):
    """A person's own settings; None wherever nothing was set.

    reviewer: who records a run, unless it is said; rig: the one a run goes on, where its logbook has it.
    sizes: the family that sizes are shown in, where the logbook does not say; theme: of figures.
    pager: whether long output goes through one.
    archive: a shared one, that is asked what others say.
    player: the command that shows a film from a moment on.
    """

    reviewer: str | None = None
    rig: str | None = None
    sizes: Family | None = None
    theme: Literal["light", "dark"] | None = None
    pager: Literal["yes", "no"] | None = None
    archive: str | None = None
    player: str | None = None


def preferences_path() -> Path:
    """Where they are kept: in the folder that the system has for a person's settings."""
    from platformdirs import user_config_path

    return user_config_path("metrograph") / "settings.toml"


def load_preferences() -> Preferences:
    """A person's settings; none where there is no file. Raises MetrographError for what is none."""
    import tomllib

    path = preferences_path()
    try:
        values = tomllib.loads(path.read_text("utf-8"))
    except FileNotFoundError:
        return Preferences()
    except (OSError, UnicodeDecodeError, tomllib.TOMLDecodeError) as error:
        raise MetrographError(f"{path} cannot be read as settings: {error}") from error
    for name, value in values.items():
        _check(name, value, str(path))
    return msgspec.convert(values, Preferences)


def set_preference(name: str, value: str | None) -> Path:
    """Sets one of them, or takes it away; gives the file. Raises MetrographError when there is no such setting."""
    import tomlkit

    path = preferences_path()
    _check(name, value, "settings")
    try:
        document = tomlkit.parse(path.read_text("utf-8")) if path.exists() else tomlkit.document()
        document.pop(name, None)
        if value is not None:
            document[name] = value
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(tomlkit.dumps(document), "utf-8")
    except OSError as error:
        raise NotWritableError(f"{path} cannot be written: {error.strerror}") from error
    return path


def _check(name: str, value: object, where: str) -> None:
    if name not in EXPECTED:
        raise MetrographError(f"{where}: there is no setting “{name}”; expected: {suggest(name, list(EXPECTED))}")
    allowed = EXPECTED[name]
    is_text = isinstance(value, str) and 0 < len(value) <= _LONGEST and value.isprintable()
    if value is not None and not (is_text and (isinstance(allowed, str) or value in allowed)):
        told = allowed if isinstance(allowed, str) else " or ".join(allowed)
        raise MetrographError(f"{where}: “{name}” cannot be “{str(value)[:60]}”; expected: {told}")


_DEFAULTS = {
    "reviewer": None,
    "rig": None,
    "sizes": None,
    "theme": "light",
    "pager": "yes",
    "archive": None,
    "player": None,
}


class Setting(msgspec.Struct, frozen=True, rename={"origin": "from"}):
    """A setting as it holds. value: null where nothing is set; origin: the file that says so, or that it is usual."""

    name: str
    value: str | None
    origin: str


def settings_in_force(sizes: Family | None, file: str) -> list[Setting]:
    """Every setting as it holds. sizes: what a logbook says of them, in a file."""
    preferences, found = load_preferences(), []
    for name, usual in _DEFAULTS.items():
        own = getattr(preferences, name)
        if name == "sizes" and sizes is not None:
            found.append(Setting(name, sizes, file))
        elif own is not None:
            found.append(Setting(name, own, str(preferences_path())))
        else:
            found.append(Setting(name, usual, "as usual"))
    return found
