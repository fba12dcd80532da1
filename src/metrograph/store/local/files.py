"""Writes that happen whole and reach the disk, or leave all as it was and say why; also to where a person points."""

from __future__ import annotations

import fcntl
import os
import select
import stat
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.store.ids import is_id

_PATIENCE = 10.0  # seconds to wait for another process that is writing
LARGEST, LARGEST_OWN = 64 << 20, 256 << 20
"""Bytes that are read of a file that somebody names, and of one of the logbook."""


@contextmanager
def locked(folder: Path) -> Iterator[None]:
    """Holds a folder's lock; the system lets go of it when the process dies, however it dies.

    The system's own call is used directly: packages for it take longer to load than everything else a cue needs.

    Raises NotWritableError when the lock cannot be had.
    """
    _make_folder(folder)
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
        # An editor that saves meanwhile puts another file in this one's place, which has to get the lines as well.
        while not _appended(path, text):
            pass


def _appended(path: Path, text: str) -> bool:
    """Writes to the file that has this name now; False when another has it afterwards."""
    handle = os.open(path, os.O_RDWR | os.O_APPEND | os.O_CLOEXEC)
    try:
        before = os.fstat(handle)
        torn = before.st_size > 0 and os.pread(handle, 1, before.st_size - 1) != b"\n"
        try:
            _write_all(handle, (b"\n" if torn else b"") + text.encode())
            os.fsync(handle)
        except OSError:
            with suppress(OSError):
                os.ftruncate(handle, before.st_size)
            raise
        return os.path.samestat(before, path.stat())
    finally:
        os.close(handle)


def create(path: Path, text: str) -> bool:
    """Makes a file that is not there yet, whole or not at all; False when it is there already."""
    return create_bytes(path, text.encode())


def create_bytes(path: Path, data: bytes) -> bool:
    """Makes a file of bytes that is not there yet, whole or not at all; False when it is there already.

    Its folder is made where it is missing: what copies a logbook may leave out the empty ones.
    """
    _make_folder(path.parent)
    with _neighbour(path, data) as new:
        return _link(path, new)


def replace(path: Path, text: str) -> None:
    """Puts a new content in the place of a file's old one, whole or not at all."""
    replace_bytes(path, text.encode())


def replace_bytes(path: Path, data: bytes) -> None:
    """Puts bytes in the place of a file's old content, whole or not at all; mode, owner and links stay as they are."""
    real = path.resolve()
    with _neighbour(real, data, _stat_of(real)) as new:
        if _is_shared(real):
            _overwrite(real, data)
        else:
            new.replace(real)


def read_bytes(path: Path, what: str, most: int = LARGEST) -> bytes:
    """The bytes of a file that somebody names, perhaps a pipe that a program writes into.

    Raises MetrographError with a sentence when there are none to be had, or more than ``most``.
    """
    with _opened(path, what) as handle:
        if stat.S_ISFIFO(os.fstat(handle).st_mode):
            return _read_pipe(handle, path, what, most)
        return _read_all(handle, path, what, most)


def read_own(path: Path, what: str) -> bytes:
    """The bytes of a logbook's own file, which has to be an ordinary one: no pipe or device is waited for."""
    with _opened(path, what) as handle:
        return _read_all(handle, path, what, LARGEST_OWN)


@contextmanager
def _opened(path: Path, what: str) -> Iterator[int]:
    try:
        handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        try:
            yield handle
        finally:
            os.close(handle)
    except FileNotFoundError:
        raise MetrographError(f"there is no {what} {path}") from None
    except OSError as error:
        raise MetrographError(f"{path} cannot be read: {error.strerror}") from error


def _read_all(handle: int, path: Path, what: str, most: int) -> bytes:
    mode = os.fstat(handle).st_mode
    if not stat.S_ISREG(mode):
        raise MetrographError(f"{path} is {'a folder' if stat.S_ISDIR(mode) else 'no ordinary file'}, and no {what}")
    with os.fdopen(handle, "rb", closefd=False) as file:
        data = file.read(most + 1)
    return _within(data, path, what, most)


def _read_pipe(handle: int, path: Path, what: str, most: int) -> bytes:
    """All that is written into a pipe until its writer closes it, or falls silent."""
    waiting = select.poll()
    waiting.register(handle, select.POLLIN)
    data = b""
    while waiting.poll(_PATIENCE * 1000):
        some = os.read(handle, 1 << 16)
        data = _within(data + some, path, what, most)
        if not some:
            return data
    raise MetrographError(f"{path} is a pipe into which nothing was written for {_PATIENCE:.0f} s")


def _within(data: bytes, path: Path, what: str, most: int) -> bytes:
    if len(data) > most:
        raise MetrographError(f"{path} is larger than {most >> 20} MiB, which no {what} is")
    return data


def own_files(folder: Path, ending: str) -> Iterator[tuple[str, os.DirEntry[str]]]:
    """The ordinary files of a folder that can be a logbook's, by their names without the ending."""
    for entry in _entries(folder, ending):
        name = entry.name.removesuffix(ending)
        if is_id(name) and _is_file(entry):
            yield name, entry


def stray_files(folder: Path, ending: str) -> list[str]:
    """The names of everything else in it that ends so."""
    known = {entry.name for _, entry in own_files(folder, ending)}
    return [entry.name for entry in _entries(folder, ending) if entry.name not in known]


def _entries(folder: Path, ending: str) -> list[os.DirEntry[str]]:
    with suppress(OSError), os.scandir(folder) as entries:
        return [entry for entry in entries if entry.name.endswith(ending)]
    return []


def _is_file(entry: os.DirEntry[str]) -> bool:
    try:
        return entry.is_file()
    except OSError:
        return False


def _make_folder(folder: Path) -> None:
    with _explained(folder):
        folder.mkdir(exist_ok=True)


@contextmanager
def _neighbour(path: Path, data: bytes, like: os.stat_result | None = None) -> Iterator[Path]:
    """A finished file beside another, to be given its name; what is left of it goes away.

    Nobody can know its name before it is there, so that no link that was laid in its way is followed.

    like: whose mode and owner it gets; None for those of a new file.
    """
    new = path.with_name(f".{path.name[:100]}.{os.urandom(8).hex()}.new")
    with _explained(path):
        try:
            handle = os.open(new, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o666)
            try:
                _write_all(handle, data)
                _take_after(handle, like)
                os.fsync(handle)
            finally:
                os.close(handle)
            yield new
        finally:
            with suppress(OSError):
                new.unlink(missing_ok=True)
    _flush_folder(path.parent)


def _link(path: Path, new: Path) -> bool:
    """Gives a finished file its name, unless that is taken."""
    try:
        path.hardlink_to(new)
    except FileExistsError:
        return False
    except OSError:
        return _claim(path, new)  # some file systems have no hard links
    return True


def _claim(path: Path, new: Path) -> bool:
    """Takes the name first and puts the finished file in its place; False where it is taken."""
    try:
        os.close(os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o666))
    except FileExistsError:
        return False
    new.replace(path)
    return True


def _stat_of(path: Path) -> os.stat_result | None:
    try:
        return path.stat()
    except OSError:
        return None


def _take_after(handle: int, like: os.stat_result | None) -> None:
    """Gives a new file the mode and, where that is allowed, the owner of the one whose place it takes."""
    if like is None:
        return
    with suppress(OSError):
        os.fchown(handle, like.st_uid, like.st_gid)
    os.fchmod(handle, like.st_mode & 0o7777)


def _is_shared(path: Path) -> bool:
    """Whether a file has more than one name, all of which are to have the new content."""
    found = _stat_of(path)
    return found is not None and found.st_nlink > 1


def _overwrite(path: Path, data: bytes) -> None:
    """Writes over a file that has other names; a whole copy lies beside it until that is done."""
    handle = os.open(path, os.O_WRONLY | os.O_NOFOLLOW | os.O_CLOEXEC)
    try:
        _write_all(handle, data)
        os.ftruncate(handle, len(data))
        os.fsync(handle)
    finally:
        os.close(handle)


def _write_all(handle: int, data: bytes) -> None:
    while data:
        data = data[os.write(handle, data) :]


def _flush_folder(folder: Path) -> None:
    """Makes sure that a new name survives a crash as well as its content does, where the system knows how.

    It is written by then: what fails here must not be told as if it were not.
    """
    with suppress(OSError):
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


_OWN = {".metro": "a run log", ".toml": "a card, or a logbook's settings"}
"""Endings of what people write by hand, and what is lost when an output takes its place."""


def write_output(path: Path, data: bytes) -> None:
    """Puts an output in its place; one that is no ordinary file is written to, and stays what it is.

    Raises MetrographError when the place is one of a logbook's own files, NotWritableError when it cannot be written.
    """
    check_output(path)
    try:
        mode = path.stat().st_mode
    except OSError:
        mode = stat.S_IFREG
    if stat.S_ISREG(mode):
        replace_bytes(path, data)
        return
    try:
        with path.open("wb", buffering=0) as file:
            while data:
                data = data[file.write(data) or 0 :]
    except OSError as error:
        raise NotWritableError(f"{path} cannot be written: {error.strerror}") from error


def is_stream(path: Path) -> bool:
    """Whether it is a pipe, a device, or a dash for standard output, which no ending says how to write to."""
    return path == Path("-") or (path.exists() and not path.is_file() and not path.is_dir())


def check_output(path: Path) -> None:
    """Raises MetrographError when an output there would take the place of something that people write."""
    for place in (path, path.resolve()):
        if place.suffix.lower() in _OWN:
            raise MetrographError(f"{os.fspath(path)} would be {_OWN[place.suffix.lower()]}, and is not written over")
