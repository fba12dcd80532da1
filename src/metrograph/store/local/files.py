"""Writes that either happen whole and reach the disk, or leave everything as it was and say why."""

from __future__ import annotations

import fcntl
import os
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from metrograph.errors import MetrographError, NotWritableError

_CHUNK = 1 << 20  # bytes
_PATIENCE = 10.0  # seconds to wait for another process that is writing


@contextmanager
def locked(folder: Path) -> Iterator[None]:
    """Holds a folder's lock; the system lets go of it when the process dies, however it dies.

    The system's own call is used directly: packages for it take longer to load than everything else a cue needs.

    Raises NotWritableError when the lock cannot be had.
    """
    with _explained(folder):
        handle = os.open(folder / ".lock", os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o666)
    try:
        _wait_for(handle, folder)
        yield
    finally:
        os.close(handle)


def append(path: Path, text: str) -> None:
    """Adds whole lines to a file and returns when they are on the disk; the caller holds the lock.

    A last line that lacks its end gets it first, so that the new lines never run into it. When the disk refuses,
    the file is cut back to what it was and NotWritableError is raised.
    """
    with _explained(path):
        handle = os.open(path, os.O_RDWR | os.O_APPEND | os.O_CLOEXEC)
        try:
            size = os.fstat(handle).st_size
            torn = size > 0 and os.pread(handle, 1, size - 1) != b"\n"
            try:
                _write_all(handle, (b"\n" if torn else b"") + text.encode())
                os.fsync(handle)
            except OSError:
                with suppress(OSError):
                    os.ftruncate(handle, size)
                raise
        finally:
            os.close(handle)


def create(path: Path, text: str) -> bool:
    """Makes a file that is not there yet, whole or not at all; False when it is there already."""
    with _neighbour(path, [text.encode()]) as new:
        return _link(path, new)


def create_from(path: Path, source: Path) -> bool:
    """Makes a file from the content of another, as ``create`` does from a text."""
    with source.open("rb") as file, _neighbour(path, iter(lambda: file.read(_CHUNK), b"")) as new:
        return _link(path, new)


def replace(path: Path, text: str) -> None:
    """Puts a new content in the place of a file's old one, whole or not at all."""
    replace_bytes(path, text.encode())


def replace_bytes(path: Path, data: bytes) -> None:
    """Puts bytes in the place of a file's old content, whole or not at all."""
    with _neighbour(path, [data]) as new:
        new.replace(path)


def read_bytes(path: Path, what: str) -> bytes:
    """A file's bytes; raises MetrographError with a sentence when there are none to be had."""
    try:
        return path.read_bytes()
    except FileNotFoundError:
        raise MetrographError(f"there is no {what} {path}") from None
    except OSError as error:
        raise MetrographError(f"{path} cannot be read: {error.strerror}") from error


@contextmanager
def _neighbour(path: Path, content: Iterable[bytes]) -> Iterator[Path]:
    """A finished file beside another, to be given its name; what is left of it goes away."""
    new = path.with_name(f".{path.name}.{os.getpid()}.new")
    with _explained(path):
        try:
            handle = os.open(new, os.O_WRONLY | os.O_CREAT | os.O_TRUNC | os.O_CLOEXEC, 0o666)
            try:
                for piece in content:
                    _write_all(handle, piece)
                os.fsync(handle)
            finally:
                os.close(handle)
            yield new
            _flush_folder(path.parent)
        finally:
            new.unlink(missing_ok=True)


def _link(path: Path, new: Path) -> bool:
    """Gives a finished file its name, unless that is taken."""
    try:
        path.hardlink_to(new)
    except FileExistsError:
        return False
    return True


def _write_all(handle: int, data: bytes) -> None:
    while data:
        data = data[os.write(handle, data) :]


def _flush_folder(folder: Path) -> None:
    """Makes sure that a new name survives a crash as well as its content does."""
    handle = os.open(folder, os.O_RDONLY | os.O_CLOEXEC)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def _wait_for(handle: int, folder: Path) -> None:
    until = time.monotonic() + _PATIENCE
    while True:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError:
            if time.monotonic() > until:
                raise NotWritableError(f"another program has been writing to {folder} for {_PATIENCE:.0f} s") from None
            time.sleep(0.002)
        else:
            return


@contextmanager
def _explained(path: Path) -> Iterator[None]:
    try:
        yield
    except OSError as error:
        raise NotWritableError(f"{path} cannot be written: {error.strerror}; nothing was written") from error
