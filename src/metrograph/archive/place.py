"""A place that archives lie in, a folder or an object store, in which nothing is ever changed: files come, whole."""

from __future__ import annotations

import os
import re
from collections.abc import Iterator
from contextlib import contextmanager
from uuid import uuid4

from metrograph.core.errors import MetrographError, NotWritableError, needs

EXTRA = "archive"
"""The extra that archives need."""
HALF = ".part"
"""How the name of a file ends that is not whole yet, or never will be."""

_NAME = re.compile(r"[A-Za-z0-9][A-Za-z0-9_=.-]*(?:/[A-Za-z0-9][A-Za-z0-9_=.-]*)*")
LARGEST_LOG, LARGEST_TABLE = 4 << 20, 1 << 31
"""Bytes that are read of a log, and of a table."""


class ArchivePlace:
    """Files by name below a URL."""

    def __init__(self, url: str) -> None:
        fsspec = needs("fsspec", EXTRA)
        self.url = url
        try:
            self.fs, self.root = fsspec.core.url_to_fs(url)
        except (ValueError, ImportError, OSError) as error:
            raise MetrographError(f"“{url}” is no place that can be opened: {error}") from error
        self.is_folder = "file" in ((self.fs.protocol,) if isinstance(self.fs.protocol, str) else self.fs.protocol)

    def path(self, name: str) -> str:
        """Where a file lies; raises MetrographError for a name that could lead elsewhere."""
        if _NAME.fullmatch(name) is None or ".." in name:
            raise MetrographError(f"“{name}” is no name of a file in an archive")
        return f"{self.root.rstrip('/')}/{name}"

    def names(self, folder: str) -> list[str]:
        """All files below a folder, by name, sorted; none where there is no such folder."""
        return sorted(name for name, _ in self._found(folder))

    def sizes(self, folder: str) -> dict[str, int]:
        """All files below a folder with their bytes."""
        return dict(self._found(folder))

    def _found(self, folder: str) -> Iterator[tuple[str, int]]:
        base = self.root.rstrip("/")
        self.fs.invalidate_cache()  # others may have put something there a moment ago
        with self._reached(f"{folder} cannot be listed"):
            try:
                found = self.fs.find(f"{base}/{folder}", detail=True)
            except FileNotFoundError:
                return
        for path, told in found.items():
            yield path[len(base) + 1 :], int(told.get("size") or 0)

    @contextmanager
    def _reached(self, what: str, kind: type[MetrographError] = MetrographError) -> Iterator[None]:
        """Whatever goes wrong on the way to a place is one error. what: what cannot be done."""
        try:
            yield
        except MetrographError:
            raise
        except Exception as error:
            # Each kind of place has errors of its own; of a folder they are the system's, all else is a mistake here.
            if self.is_folder and not isinstance(error, OSError):
                raise
            raise kind(f"{self.url}: {what}: {error}") from error

    def read(self, name: str, most: int = LARGEST_LOG) -> bytes:
        """A file; raises MetrographError where it is not there, or larger than may be."""
        path = self.path(name)
        with self._reached(f"{name} cannot be read"):
            if self.fs.size(path) > most:
                raise MetrographError(f"{self.url}: {name} is larger than {most >> 20} MiB, and is not read")
            data: bytes = self.fs.cat_file(path)
        return data

    def has(self, name: str) -> bool:
        """Whether a file is there, or anything below a folder of this name."""
        with self._reached(f"{name} cannot be looked for"):
            return bool(self.fs.exists(self.path(name)))

    def add(self, name: str, data: bytes) -> bool:
        """Puts a file there, whole or not at all; False where it is there already, which is not looked at.

        Raises NotWritableError where nothing can be written.
        """
        path = self.path(name)
        with self._reached(f"{name} cannot be written", NotWritableError):
            if self.fs.exists(path):
                return False
            if self.is_folder:
                self._add_to_folder(path, data)
            else:
                self.fs.pipe_file(path, data)
        return True

    def _add_to_folder(self, path: str, data: bytes) -> None:
        """A folder shows a file while it is written, so that it has another name until it is whole."""
        folder, _, name = path.rpartition("/")
        self.fs.makedirs(folder, exist_ok=True)
        half = f"{folder}/{name}.{uuid4().hex}{HALF}"
        self.fs.pipe_file(half, data)
        os.replace(half, path)  # noqa: PTH105 - a path of fsspec's

    def remove(self, name: str) -> None:
        """Takes a file away that nobody reads any longer."""
        with self._reached(f"{name} cannot be taken away", NotWritableError):
            self.fs.rm_file(self.path(name))


def archive_at(url: str) -> ArchivePlace:
    """A place that has an archive; raises MetrographError where nothing was shared yet, as where a name is misspelt."""
    place = ArchivePlace(url)
    if not (place.has("logs") or place.has("parts")):
        raise MetrographError(
            f"there is no archive at {url}; “metrograph share RUN --to {url}” puts the first run there"
        )
    return place
