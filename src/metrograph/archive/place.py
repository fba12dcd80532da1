"""A place that archives lie in, a folder or an object store, in which nothing is ever changed: files come, whole.

Nobody knows who else writes there. In a folder only ordinary files are looked at, and no link is followed.
"""

from __future__ import annotations

import os
import re
import stat
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from datetime import datetime
from pathlib import Path
from typing import Any, Protocol
from uuid import uuid4

from metrograph.core.errors import MetrographError, NotWritableError, needs

EXTRA = "archive"
"""The extra that archives need."""
HALF = ".part"
"""How the name of a file ends that is not whole yet, or never will be."""

_NAME = re.compile(r"[A-Za-z0-9][A-Za-z0-9_=.-]*(?:/[A-Za-z0-9][A-Za-z0-9_=.-]*)*")
_ELSEWHERE = re.compile(r"(?!file://)[a-z0-9+.-]+:(?=/|:)")
"""How the address of what is no folder begins."""
LARGEST_LOG, LARGEST_TABLE = 4 << 20, 1 << 31
"""Bytes that are read of a log, and of a table."""


class _Files(Protocol):
    """The files of a place, by names that lead nowhere else. Raises FileNotFoundError, and whatever else goes wrong."""

    def names(self, folder: str) -> Iterator[str]: ...
    def read(self, name: str, most: int) -> bytes | None: ...
    def has(self, name: str) -> bool: ...
    def write(self, name: str, data: bytes) -> None: ...
    def rename(self, name: str, new: str) -> None: ...
    def remove(self, name: str) -> None: ...
    def age(self, name: str) -> float: ...


class _Folder:
    """Files in a folder of this machine, or of one that it has mounted."""

    def __init__(self, root: str) -> None:
        self.root = root

    def names(self, folder: str) -> Iterator[str]:
        with suppress(FileNotFoundError), self._opened(folder) as handle, os.scandir(handle) as entries:
            for entry in entries:
                name = f"{folder}/{entry.name}" if folder else entry.name
                if entry.is_dir(follow_symlinks=False):
                    yield from self.names(name)
                elif entry.is_file(follow_symlinks=False):
                    yield name

    def read(self, name: str, most: int) -> bytes | None:
        folder, _, last = name.rpartition("/")
        with self._opened(folder) as parent:
            flags = os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC
            with os.fdopen(os.open(last, flags, dir_fd=parent), "rb") as file:
                if not stat.S_ISREG(os.fstat(file.fileno()).st_mode):
                    raise OSError(f"{name} is no ordinary file")
                data = file.read(most + 1)
        return data if len(data) <= most else None

    def has(self, name: str) -> bool:
        folder, _, last = name.rpartition("/")
        try:
            with self._opened(folder) as parent:
                os.stat(last, dir_fd=parent, follow_symlinks=False)
        except FileNotFoundError:
            return False
        return True

    def write(self, name: str, data: bytes) -> None:
        """Under another name until it is whole, as a folder shows a file while it is written."""
        folder, _, last = name.rpartition("/")
        half = f"{last}.{uuid4().hex}{HALF}"
        flags = os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC
        with self._opened(folder, make=True) as parent:
            with os.fdopen(os.open(half, flags, 0o666, dir_fd=parent), "wb") as file:
                file.write(data)
                file.flush()
                os.fsync(file.fileno())
            os.replace(half, last, src_dir_fd=parent, dst_dir_fd=parent)

    def rename(self, name: str, new: str) -> None:
        (folder, _, last), (to, _, later) = name.rpartition("/"), new.rpartition("/")
        with self._opened(folder) as parent, self._opened(to, make=True) as target:
            os.rename(last, later, src_dir_fd=parent, dst_dir_fd=target)

    def remove(self, name: str) -> None:
        folder, _, last = name.rpartition("/")
        with self._opened(folder) as parent:
            os.unlink(last, dir_fd=parent)

    def age(self, name: str) -> float:
        folder, _, last = name.rpartition("/")
        with self._opened(folder) as parent:
            return time.time() - os.stat(last, dir_fd=parent, follow_symlinks=False).st_mtime

    @contextmanager
    def _opened(self, folder: str, make: bool = False) -> Iterator[int]:
        """A folder below the root, reached step by step, so that no link leads out of the archive."""
        if make:
            Path(self.root).mkdir(parents=True, exist_ok=True)
        flags = os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC
        handle = os.open(self.root, flags)
        try:
            for step in filter(None, folder.split("/")):
                if make:
                    with suppress(FileExistsError):
                        os.mkdir(step, dir_fd=handle)
                below = os.open(step, flags | os.O_NOFOLLOW, dir_fd=handle)
                os.close(handle)
                handle = below
            yield handle
        finally:
            os.close(handle)


class _ObjectStore:
    """Files in an object store, where each comes whole and there are no links."""

    def __init__(self, fs: Any, root: str) -> None:
        self.fs, self.root = fs, root

    def names(self, folder: str) -> Iterator[str]:
        self.fs.invalidate_cache()  # others may have put something there a moment ago
        with suppress(FileNotFoundError):
            for path in self.fs.find(f"{self.root}/{folder}"):
                yield path[len(self.root) + 1 :]

    def read(self, name: str, most: int) -> bytes | None:
        if self.fs.size(self._path(name)) > most:
            return None
        data: bytes = self.fs.cat_file(self._path(name))
        return data

    def has(self, name: str) -> bool:
        return bool(self.fs.exists(self._path(name)))

    def write(self, name: str, data: bytes) -> None:
        self.fs.pipe_file(self._path(name), data)

    def rename(self, name: str, new: str) -> None:
        self.fs.mv(self._path(name), self._path(new))

    def remove(self, name: str) -> None:
        self.fs.rm_file(self._path(name))

    def age(self, name: str) -> float:
        changed: datetime = self.fs.modified(self._path(name))
        return (datetime.now(changed.tzinfo) - changed).total_seconds()

    def _path(self, name: str) -> str:
        return f"{self.root}/{name}"


def _silently(_: str) -> None:
    """Tells nobody."""


class ArchivePlace:
    """Files by name below a URL. warn: tells whoever asks what is wrong there and stops nothing."""

    def __init__(self, url: str, warn: Callable[[str], None] = _silently) -> None:
        self.url, self.warn = url, warn
        self.fs: Any = None
        if _ELSEWHERE.match(url):
            fsspec = needs("fsspec", EXTRA)
            try:
                self.fs, root = fsspec.core.url_to_fs(url)
            except (ValueError, ImportError, OSError) as error:
                raise MetrographError(f"“{url}” is no place that can be opened: {error}") from error
            self.root = root.rstrip("/")
            self._files: _Files = _ObjectStore(self.fs, self.root)
        else:
            self.root = os.path.abspath(url.removeprefix("file://"))  # noqa: PTH100 - links stay links
            self._files = _Folder(self.root)

    @property
    def is_folder(self) -> bool:
        """Whether it is a folder of this machine, or one that it has mounted."""
        return self.fs is None

    def address(self, name: str) -> str:
        """Where a file lies, for an engine; raises MetrographError for a name that could lead elsewhere."""
        path = f"{self.root}/{_named(name)}"
        return path if self.is_folder else str(self.fs.unstrip_protocol(path))

    def names(self, folder: str) -> list[str]:
        """All ordinary files below a folder, by name, sorted; none where there is no such folder."""
        with self._reached(f"{folder} cannot be listed"):
            return sorted(self._files.names(folder))

    def read(self, name: str, most: int = LARGEST_LOG) -> bytes:
        """A file; raises MetrographError where it is not there, or larger than may be."""
        with self._reached(f"{_named(name)} cannot be read"):
            data = self._files.read(name, most)
        if data is None:
            raise MetrographError(f"{self.url}: {name} is larger than {most >> 20} MiB, and is not read")
        return data

    def has(self, name: str) -> bool:
        """Whether a file is there, or anything below a folder of this name."""
        with self._reached(f"{_named(name)} cannot be looked for"):
            return self._files.has(name)

    def add(self, name: str, data: bytes) -> bool:
        """Puts a file there, whole or not at all; False where it is there already, which is not looked at.

        Raises NotWritableError where nothing can be written.
        """
        with self._reached(f"{_named(name)} cannot be written", NotWritableError):
            if self._files.has(name):
                return False
            self._files.write(name, data)
        return True

    def set_aside(self, name: str, new: str) -> None:
        """Gives a file another name, as it is not what its own says."""
        with self._reached(f"{_named(name)} cannot be set aside", NotWritableError):
            self._files.rename(name, _named(new))

    def remove(self, name: str) -> None:
        """Takes a file away that nobody reads any longer."""
        with self._reached(f"{_named(name)} cannot be taken away", NotWritableError):
            self._files.remove(name)

    def age(self, name: str) -> float:
        """Seconds since a file was written."""
        with self._reached(f"{_named(name)} cannot be looked at"):
            return self._files.age(name)

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
            why = getattr(error, "strerror", None) or str(error)
            raise kind(f"{self.url}: {what}: {why}") from error


def _named(name: str) -> str:
    """A name that stays below the root; raises MetrographError for any other."""
    if _NAME.fullmatch(name) is None or ".." in name:
        raise MetrographError(f"“{name}” is no name of a file in an archive")
    return name


def archive_at(url: str, warn: Callable[[str], None] = _silently) -> ArchivePlace:
    """A place that has an archive; raises MetrographError where nothing was shared yet, as where a name is misspelt."""
    place = ArchivePlace(url, warn)
    if not (place.has("logs") or place.has("parts")):
        raise MetrographError(
            f"there is no archive at {url}; “metrograph share RUN --to {url}” puts the first run there"
        )
    return place
