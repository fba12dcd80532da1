"""A logbook in a folder: finding it, and everything that a store can do, done with files and under a lock."""

from __future__ import annotations

import os
from collections.abc import Mapping, Sequence
from contextlib import suppress
from functools import lru_cache
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.log.bodies import Terms, any_terms
from metrograph.log.cues import Cue, Header, Log
from metrograph.log.reader import read_log_bytes
from metrograph.store.appending import (
    addition,
    changed,
    first_text,
    is_open,
    log_to_change,
    revised,
    whole_text,
    without,
)
from metrograph.store.clock import Instant, When
from metrograph.store.ids import check_id, split_run
from metrograph.store.local.files import (
    append,
    create,
    locked,
    own_files,
    read_own,
    replace,
    replace_bytes,
    stray_files,
)
from metrograph.store.protocol import Stamp, Written

if TYPE_CHECKING:
    from metrograph.store.settings import Settings

_HINT = ".open"


def open_hints(runs: Path) -> list[str]:
    """The runs that the hint names, each once."""
    try:
        return list(dict.fromkeys(read_own(runs / _HINT, "hint").decode().split()))
    except (MetrographError, UnicodeDecodeError):
        return []


def note_open(runs: Path, run: str, is_open: bool) -> None:
    """Puts a run on the hint, or takes it off; the caller holds the lock."""
    others = [other for other in open_hints(runs) if other != run]
    names = [*others, run] if is_open else others
    try:
        replace(runs / _HINT, "".join(f"{name}\n" for name in names))
    except MetrographError:
        # One that is out of date would send cues to another run that is open; without one, all logs are looked at.
        with suppress(OSError):
            (runs / _HINT).unlink()


MARK = "metrograph.toml"
ENDING = ".metro"
_CACHE = ".cache"
_FIRST_SETTINGS = """\
# This folder is a Metrograph logbook.
#
# Keys of answers whose values are masked in whatever is published, beside those that the program knows:
#
# personal = ["badge number"]
#
# What is to be tried and read in every run; “status” and “end” say what is still missing:
#
# [checklist]
# checks = ["wireless", "printer"]
# readings = ["memory", "disk used"]
#
# Screens that are for the same thing, or are not, whatever the program makes of them, by their titles:
#
# [same-as]
# "Where should it go?" = "Disk"
# [not-same-as]
# "Extra software" = ["Software", "Extra drivers"]
#
# Terms of screen of your own may stand here, beside those that come with the program:
#
# [kinds.licence]
# words = ["licence", "terms of use"]   # what suggests it when it stands in a title
# phases = ["questions"]                # where it is at home: before the restart, and after it
# unattended = false                    # whether the machine works by itself meanwhile
"""


class Logbook(msgspec.Struct, frozen=True):
    """A folder with ``metrograph.toml``, ``releases/``, ``rigs/``, ``runs/`` and ``shots/``; a ``Store``."""

    path: Path

    @property
    def runs(self) -> Path:
        """Where the run logs are."""
        return self.path / "runs"

    def log(self, run: str) -> Path:
        """The log of a run."""
        return self.runs / f"{check_id(run, 'run')}{ENDING}"

    def card(self, group: str, name: str) -> Path:
        """The card of a release (group ``releases``) or a rig (``rigs``)."""
        return self.path / group / f"{check_id(name, group.removesuffix('s'))}.toml"

    # -- looking -------------------------------------------------------------------------------------------------------

    def run_names(self, release: str | None = None) -> list[str]:
        """The names of all runs, or of one release's, by release and number."""
        names = [name for name, _ in own_files(self.runs, ENDING) if split_run(name)[1]]
        wanted = [name for name in names if release is None or split_run(name)[0] == release]
        return sorted(wanted, key=split_run)

    def strays(self) -> list[str]:
        """What lies among logs and cards and is neither: an editor's lock, a copy, a folder, a pipe; sorted."""
        folders = {"runs": ENDING, "releases": ".toml", "rigs": ".toml"}
        return sorted(f"{folder}/{name}" for folder, ending in folders.items()
                      for name in stray_files(self.path / folder, ending))  # fmt: skip

    def has(self, run: str) -> bool:
        """Whether there is a log of this run."""
        return self.log(run).is_file()

    def read(self, run: str) -> bytes:
        """The log of a run as it stands."""
        return read_own(self.log(run), "run log")

    def label(self, run: str) -> str:
        """Its log's path, as a person standing in the working folder would write it."""
        return _folder_from(os.getcwd(), self.runs) + f"{check_id(run, 'run')}{ENDING}"  # noqa: PTH109 - asked for each log

    def header(self, run: str) -> Header:
        """What the head of a run's log says, as far as it can be read."""
        return read_log_bytes(self.read(run), run, any_terms)[0].header

    def stamps(self) -> dict[str, Stamp]:
        """Every run with its log's time of change in nanoseconds, size in bytes and inode, by one walk."""
        stamps: dict[str, Stamp] = {}
        for name, entry in own_files(self.runs, ENDING):
            if split_run(name)[1]:
                with suppress(OSError):
                    stat = entry.stat()
                    stamps[name] = (stat.st_mtime_ns, stat.st_size, stat.st_ino)
        return stamps

    def stamp(self, run: str) -> Stamp:
        """The stamp of one run; raises OSError when its log is not there."""
        stat = self.log(run).stat()
        return stat.st_mtime_ns, stat.st_size, stat.st_ino

    def card_names(self, group: str) -> list[str]:
        """The ids of all cards of a group, sorted."""
        return sorted(name for name, _ in own_files(self.path / group, ".toml"))

    def settings(self) -> Settings:
        """What ``metrograph.toml`` says."""
        from metrograph.store.settings import parse_settings  # a cue that is written does without

        path = self.path / MARK
        return parse_settings(read_own(path, "logbook settings"), str(path))

    def settings_text(self) -> str:
        """The text of ``metrograph.toml``, with what is not UTF-8 replaced."""
        return read_own(self.path / MARK, "logbook settings").decode("utf-8", "replace")

    # -- open runs -----------------------------------------------------------------------------------------------------

    def open_runs(self) -> list[str]:
        """The runs that have no end yet.

        A small file names those that were begun by command, so that a cue need not read the whole logbook; only when
        none of them is open are all logs looked at, for one that was written by hand.
        """
        listed = [run for run in open_hints(self.runs) if self._is_open(run)]
        return listed or [run for run in self.run_names() if self._is_open(run)]

    def _is_open(self, run: str) -> bool:
        try:
            return is_open(read_own(self.log(run), "run log"), run)
        except (OSError, MetrographError):
            return False

    # -- writing -------------------------------------------------------------------------------------------------------

    def begin(self, header: Header, present: Instant) -> str:
        """Opens the next run of the header's release; returns its name."""
        text = first_text(header, present)
        with locked(self.runs):
            number = max((split_run(run)[1] for run in self.run_names(header.release)), default=0) + 1
            run = f"{header.release}-{number}"
            # First the hint: one that names a run too many does no harm, one that lacks it would send cues elsewhere.
            note_open(self.runs, run, is_open=True)
            if not create(self.log(run), text):
                raise MetrographError(f"{self.log(run)} is there already")
        return run

    def append(self, run: str, cues: Sequence[Cue], when: When, only_new: bool = False) -> Written:
        """Adds cues to a run and returns when they are on the disk; see ``Store.append``."""
        path = self.log(run)
        with locked(self.runs):
            added = addition(read_own(path, "run log"), str(path), run, cues, when, only_new)
            if added.whole is not None:
                replace(path, added.whole)
            elif added.end:
                append(path, added.end)
            if any(cue.verb == "end" for cue in added.cues):
                note_open(self.runs, run, is_open=False)
        return Written(added.log, added.cues)

    def add(self, run: str, log: Log) -> bool:
        """Keeps a whole log that came from elsewhere; False when the run is there already."""
        return create(self.log(run), whole_text(log, self._terms()))

    def check(self, run: str, log: Log) -> None:
        """Raises MetrographError when ``add`` would refuse a log."""
        self.log(run)
        whole_text(log, self._terms())

    def take_back(self, run: str, line: int | None) -> str:
        """Takes one cue out of a log: the one that was written last, or the one that begins on a line.

        Returns its text as it stood. Raises MetrographError when there is no such cue.
        """
        path = self.log(run)
        with locked(self.runs):
            text, taken = without(read_own(path, "run log"), str(path), run, line)
            self._rewrite(run, path, text)
        return taken

    def change(self, run: str, line: int, cue: Cue | None, when: When | None) -> str:
        """Puts another cue in the place of the one that begins on a line, readable or not.

        cue: its words; None to keep them. when: None to keep the time.

        Returns the new cue as it stands in the log. Raises MetrographError when no cue begins there.
        """
        path = self.log(run)
        with locked(self.runs):
            text, written = changed(read_own(path, "run log"), str(path), run, line, cue, when)
            self._rewrite(run, path, text)
        return written

    def revise(self, run: str, changes: Mapping[int, Cue | None]) -> None:
        """Puts other cues in the place of those that begin on some lines, all at once; see ``Store.revise``."""
        path = self.log(run)
        with locked(self.runs):
            self._rewrite(run, path, revised(read_own(path, "run log"), str(path), run, changes))

    def _rewrite(self, run: str, path: Path, text: str) -> None:
        """Puts a log's new text in its place; the hint has the run before it can be open again."""
        note_open(self.runs, run, is_open=True)
        replace(path, text)
        if not self._is_open(run):
            note_open(self.runs, run, is_open=False)

    def check_writable(self, run: str) -> Log:
        """The log of a run that is to be written to; raises MetrographError when it cannot be."""
        return log_to_change(self.read(run), str(self.log(run)), run)

    def _terms(self) -> Terms:
        lexicon = self.settings().lexicon
        return lambda: lexicon

    # -- what is kept --------------------------------------------------------------------------------------------------

    def kept(self, name: str) -> bytes | None:
        """Something that was kept to be quicker next time; None when it is not there."""
        try:
            return read_own(self.path / _CACHE / name, "kept result")
        except MetrographError:
            return None

    def keep(self, name: str, data: bytes) -> None:
        """Keeps it, where that can be done; a logbook that cannot be written to is read all the same."""
        with suppress(MetrographError, OSError):
            (self.path / _CACHE).mkdir(exist_ok=True)
            replace_bytes(self.path / _CACHE / name, data)


def find_logbook(start: Path, named: Path | None) -> Logbook:
    """The logbook that was named, or else the one that ``start`` lies in; raises MetrographError when there is none."""
    if named is not None:
        if not (named / MARK).is_file():
            raise MetrographError(f"{named} is not a logbook: it has no {MARK}. “metrograph init {named}” makes one")
        return Logbook(named)
    folder = logbook_above(start)
    if folder is None:
        raise MetrographError(
            "there is no logbook here or in a folder above; “metrograph init” makes one,"
            " and --logbook or METROGRAPH_LOGBOOK names one elsewhere"
        )
    return Logbook(folder)


def logbook_above(start: Path) -> Path | None:
    """The folder of the logbook that a folder lies in; None when it lies in none."""
    return next((folder for folder in (start, *start.parents) if (folder / MARK).is_file()), None)


def make_logbook(path: Path) -> bool:
    """Makes a folder a logbook; False when it is one already. Files that are there stay as they are."""
    for folder in ("releases", "rigs", "runs", "shots"):
        try:
            (path / folder).mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise NotWritableError(f"{path / folder} cannot be made: {error.strerror}") from error
    return create(path / MARK, _FIRST_SETTINGS)


def shown_path(path: Path) -> str:
    """A path as a person standing in the working folder would write it; bytes that are no UTF-8 as escapes."""
    return _shown_from(os.getcwd(), path)  # noqa: PTH109 - this is asked for each log of a logbook


def _shown_from(working: str, path: Path) -> str:
    try:
        shown = str(path.resolve().relative_to(working))
    except (ValueError, OSError):
        shown = str(path)
    return shown.encode("utf-8", "backslashreplace").decode()


@lru_cache(4)
def _folder_from(working: str, folder: Path) -> str:
    """A folder as it is shown, ready to be put before a name."""
    shown = _shown_from(working, folder)
    return "" if shown == "." else f"{shown}/"
