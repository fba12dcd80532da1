"""The demo logbook: a made-up repair workshop that installs every release it hands out, and writes it down."""

from __future__ import annotations

from importlib import resources
from importlib.resources.abc import Traversable
from pathlib import Path

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.store.local.logbook import MARK, Logbook, make_logbook

RECORDINGS = "recordings"
"""Where in the demo logbook the recordings lie: a film with its captions, and what a terminal recorded."""


def copy_demo(path: Path, force: bool = False) -> Logbook:
    """Copies the demo logbook into a folder.

    force: write over the files of an earlier demo; files of other names stay, but for what was taken from its
        recordings, which can be taken from them anew.

    Raises MetrographError when the folder has something else in it.
    """
    if path.exists() and not path.is_dir():
        raise MetrographError(f"{path} is a file; name a folder for the demo")
    if path.is_dir() and any(path.iterdir()) and not (force and (path / MARK).is_file()):
        hint = "--force writes over an earlier demo" if (path / MARK).is_file() else "name another folder"
        raise MetrographError(f"{path} is not empty; {hint}")
    make_logbook(path)
    try:
        for group in ("", "releases", "rigs", "runs"):
            for file in _files("logbook", group):
                (path / group / file.name).write_bytes(file.read_bytes())
        for taken in [*path.glob("drafts/*.metro"), *path.glob("runs/*.metro")]:
            if any(f"\nsource: {file.name}\n" in taken.read_text("utf-8", "replace") for file in _files(RECORDINGS)):
                taken.unlink()
        (path / RECORDINGS).mkdir(exist_ok=True)
        for file in _files(RECORDINGS):
            (path / RECORDINGS / file.name).write_bytes(file.read_bytes())
    except OSError as error:
        raise NotWritableError(f"{path} cannot be written: {error.strerror}") from error
    return Logbook(path)


def _files(*folders: str) -> list[Traversable]:
    folder = resources.files("metrograph.demo").joinpath(*folders)
    return sorted((file for file in folder.iterdir() if file.is_file()), key=lambda file: file.name)
