"""Keeps what was watched: drafts, which are in no comparison, looks of confirmed screens, pages of scans."""

from __future__ import annotations

import hashlib
import shutil
from collections.abc import Iterable
from pathlib import Path

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.log.bodies import any_terms
from metrograph.log.cues import Cue, Header, Log
from metrograph.log.reader import read_log_bytes
from metrograph.store.appending import whole_text
from metrograph.store.ids import check_id, split_run, unknown
from metrograph.store.local.files import append, create, locked, own_files, read_own, replace
from metrograph.store.local.logbook import ENDING, Logbook, shown_path

_FOLDER = "drafts"
_SOURCE = "source"


def draft_path(book: Logbook, name: str) -> Path:
    """Where a draft lies."""
    return book.path / _FOLDER / f"{check_id(name, 'draft')}{ENDING}"


def draft_names(book: Logbook) -> list[str]:
    """The names of all drafts, by release and number."""
    return sorted((name for name, _ in own_files(book.path / _FOLDER, ENDING) if split_run(name)[1]), key=split_run)


def find_draft(book: Logbook, name: str | None) -> str:
    """The draft that was named, or the only one; raises MetrographError when there is no telling."""
    known = draft_names(book)
    if name is None:
        if len(known) == 1:
            return known[0]
        hint = f"; known: {', '.join(known)}" if known else "; “metrograph scan FILE RELEASE” makes one"
        raise MetrographError(f"say which draft{hint}" if known else f"there is no draft{hint}")
    if name in known:
        return name
    of_release = [draft for draft in known if split_run(draft)[0] == name]
    if len(of_release) == 1:
        return of_release[0]
    raise unknown("draft", name, known, "“metrograph scan FILE RELEASE” makes one")


def read_draft(book: Logbook, name: str) -> Log:
    """A draft; raises MetrographError when it cannot be read as a log."""
    path = draft_path(book, name)
    log, faults = read_log_bytes(read_own(path, "draft"), shown_path(path), any_terms)
    wrong = next((fault for fault in faults if fault.level == "error"), None)
    if wrong is not None:
        raise MetrographError(f"{wrong.file}:{wrong.line}: {wrong.message}")
    return log


def open_draft(book: Logbook, header: Header) -> str:
    """The name of the draft of a release and a source: that which is there, or the next."""
    _make_folder(book)
    for name in draft_names(book):
        if split_run(name)[0] == header.release and _same_source(read_draft(book, name).header, header):
            return name
    return new_draft(book, header)


def new_draft(book: Logbook, header: Header) -> str:
    """The name of a new draft of a release: the next that no run and no other draft has."""
    _make_folder(book)
    with locked(book.path / _FOLDER):
        names = [name for name in draft_names(book) if split_run(name)[0] == header.release]
        taken = [split_run(name)[1] for name in (*names, *book.run_names(header.release))]
        name = f"{header.release}-{max(taken, default=0) + 1}"
        create(draft_path(book, name), whole_text(Log(name, header), any_terms))
    return name


def write_draft(book: Logbook, name: str, header: Header, cues: tuple[Cue, ...]) -> None:
    """Puts a draft's proposals in the place of what it held; it is on the disk when this returns."""
    with locked(book.path / _FOLDER):
        replace(draft_path(book, name), whole_text(Log(name, header, cues), any_terms))


def put_draft(book: Logbook, name: str, header: Header, cues: tuple[Cue, ...]) -> None:
    """Makes or changes the draft that belongs to a run; it is on the disk when this returns."""
    _make_folder(book)
    with locked(book.path / _FOLDER):
        create(draft_path(book, name), whole_text(Log(name, header), any_terms))
    write_draft(book, name, header, cues)


def drop_draft(book: Logbook, name: str) -> None:
    """Takes a draft away, once it has become a run."""
    draft_path(book, name).unlink(missing_ok=True)


def _same_source(one: Header, other: Header) -> bool:
    return one.other(_SOURCE) == other.other(_SOURCE) and one.rig == other.rig


def _make_folder(book: Logbook) -> None:
    try:
        (book.path / _FOLDER).mkdir(exist_ok=True)
    except OSError as error:
        raise NotWritableError(f"{book.path / _FOLDER} cannot be made: {error.strerror}") from error


_NAME = "looks.jsonl"


_DECISIONS = "heard.jsonl"


def look_lines(book: Logbook) -> list[bytes]:
    """All lines; none where nothing was confirmed yet."""
    return _own_lines(book.path / _NAME, "looks")


def add_look_lines(book: Logbook, lines: Iterable[bytes]) -> None:
    """Adds the looks that are new."""
    known = set(look_lines(book))
    new = "".join(f"{line.decode()}\n" for line in dict.fromkeys(lines) if line not in known)
    if new:
        _add(book, _NAME, new)


def decision_lines(book: Logbook) -> list[bytes]:
    """What was decided on what was heard, a line each; none where nothing was yet."""
    return _own_lines(book.path / _DECISIONS, "decisions")


def add_decision_lines(book: Logbook, lines: Iterable[bytes]) -> None:
    """Adds decisions."""
    _add(book, _DECISIONS, "".join(f"{line.decode()}\n" for line in lines))


def _own_lines(path: Path, what: str) -> list[bytes]:
    return read_own(path, what).splitlines() if path.exists() else []


def _add(book: Logbook, name: str, lines: str) -> None:
    with locked(book.runs):
        create(book.path / name, "")
        append(book.path / name, lines)


def scan_key(source: Path) -> str:
    """A name for this very recording: another one of the same name has another."""
    stat = source.stat()
    return hashlib.sha256(f"{source.resolve()}\0{stat.st_size}\0{stat.st_mtime_ns}".encode()).hexdigest()[:16]


def scan_folder(book: Logbook, source: Path, anew: bool = False) -> Path:
    """The folder of a recording; emptied where it is to be gone through anew."""
    folder = folder_of(book, scan_key(source))
    if anew:
        shutil.rmtree(folder, ignore_errors=True)
    return folder


def folder_of(book: Logbook, key: str) -> Path:
    """The folder of a recording by its key."""
    return book.path / ".cache" / f"scan-{key}"
