"""Finds the logbook and knows where in it things are. Names from outside never become paths unchecked."""

from __future__ import annotations

import re
from pathlib import Path

import msgspec

from metrograph.errors import MetrographError, NotWritableError
from metrograph.language.suggest import suggest
from metrograph.logbook.files import create, read_bytes
from metrograph.model.flows import Rulings
from metrograph.model.lexicon import Checklist, Kind, Lexicon, Measure, load_lexicon

MARK = "metrograph.toml"
ENDING = ".metro"
_ID = re.compile(r"[a-z0-9](?:[a-z0-9._-]{0,78}[a-z0-9])?")
_FEW = 8  # names that are listed where none is like the one that was given
_RUN = re.compile(r"(.+)-([1-9][0-9]{0,5})")
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
# Kinds of screen of your own may stand here, beside those that come with the program:
#
# [kinds.licence]
# words = ["licence", "terms of use"]   # what suggests it when it stands in a title
# phases = ["questions"]                # where it is at home: before the restart, and after it
# unattended = false                    # whether the machine works by itself meanwhile
"""


class _Settings(msgspec.Struct, frozen=True, rename={"same_as": "same-as", "not_same_as": "not-same-as"}):
    """What ``metrograph.toml`` may hold; see ``Lexicon`` for what it means."""

    kinds: dict[str, Kind] = {}
    personal: tuple[str, ...] = ()
    measures: dict[str, Measure] = {}
    checklist: Checklist = Checklist()
    same_as: dict[str, str | tuple[str, ...]] = {}
    not_same_as: dict[str, str | tuple[str, ...]] = {}


class Logbook(msgspec.Struct, frozen=True):
    """A folder with ``metrograph.toml``, ``releases/``, ``rigs/``, ``runs/`` and ``shots/``."""

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

    def cards(self, group: str) -> list[str]:
        """The ids of all cards of a group, sorted."""
        return sorted(path.stem for path in (self.path / group).glob("*.toml"))

    def run_names(self, release: str | None = None) -> list[str]:
        """The names of all runs, or of one release's, by release and number."""
        names = [path.stem for path in self.runs.glob(f"*{ENDING}") if _RUN.fullmatch(path.stem)]
        wanted = [name for name in names if release is None or split_run(name)[0] == release]
        return sorted(wanted, key=split_run)

    def releases_with_runs(self) -> list[str]:
        """The ids of all releases that were installed, by name."""
        return sorted({split_run(run)[0] for run in self.run_names()})

    def lexicon(self) -> Lexicon:
        """What screens are for, own kinds included; raises MetrographError when the settings are wrong."""
        own = self._settings()
        return load_lexicon().with_own(own.kinds, own.personal, own.measures)

    def checklist(self) -> Checklist:
        """What should be tried and read in every run; raises MetrographError when the settings are wrong."""
        return self._settings().checklist

    def rulings(self) -> Rulings:
        """What was decided about screens; raises MetrographError when the settings are wrong."""
        own = self._settings()
        return Rulings(_pairs(own.same_as), _pairs(own.not_same_as))

    def _settings(self) -> _Settings:
        import tomllib

        path = self.path / MARK
        try:
            settings = tomllib.loads(read_bytes(path, "logbook settings").decode())
            unknown = settings.keys() - set(_Settings.__struct_encode_fields__)
            if unknown:
                expected = ", ".join(_Settings.__struct_encode_fields__)
                raise MetrographError(f"{path}: there is no setting “{min(unknown)}”; expected: {expected}")
            return msgspec.convert(settings, _Settings)
        except (tomllib.TOMLDecodeError, UnicodeDecodeError, msgspec.ValidationError) as error:
            raise MetrographError(f"{path}: {error}") from error


def _pairs(table: dict[str, str | tuple[str, ...]]) -> frozenset[frozenset[str]]:
    """Each title of a table with each that it stands beside."""
    every = ((title, (beside,) if isinstance(beside, str) else beside) for title, beside in table.items())
    return frozenset(frozenset((title, each)) for title, beside in every for each in beside)


def check_id(text: str, what: str) -> str:
    """The id itself; raises MetrographError when it could not be a file's name everywhere."""
    if not _ID.fullmatch(text) or ".." in text:
        raise MetrographError(
            f"“{text}” cannot be the name of a {what}: it takes small letters, digits, dots and dashes,"
            " such as larkmoor-8.0-heron"
        )
    return text


def split_run(run: str) -> tuple[str, int]:
    """Release and number of a run's name; number 0 when it has none."""
    found = _RUN.fullmatch(run)
    return (found[1], int(found[2])) if found else (run, 0)


def find_logbook(start: Path, named: Path | None) -> Logbook:
    """The logbook that was named, or else the one that ``start`` lies in; raises MetrographError when there is none."""
    if named is not None:
        if not (named / MARK).is_file():
            raise MetrographError(f"{named} is not a logbook: it has no {MARK}. “metrograph init {named}” makes one")
        return Logbook(named)
    for folder in (start, *start.parents):
        if (folder / MARK).is_file():
            return Logbook(folder)
    raise MetrographError(
        "there is no logbook here or in a folder above; “metrograph init” makes one,"
        " and --logbook or METROGRAPH_LOGBOOK names one elsewhere"
    )


def make_logbook(path: Path) -> bool:
    """Makes a folder a logbook; False when it is one already. Files that are there stay as they are."""
    for folder in ("releases", "rigs", "runs", "shots"):
        try:
            (path / folder).mkdir(parents=True, exist_ok=True)
        except OSError as error:
            raise NotWritableError(f"{path / folder} cannot be made: {error.strerror}") from error
    return create(path / MARK, _FIRST_SETTINGS)


def unknown(what: str, name: str, known: list[str], hint: str = "") -> MetrographError:
    """The error that says a name is not known, what might have been meant, and what to do."""
    near = suggest(name, known)
    if near.startswith("one of ") and len(known) > _FEW:
        near = ""  # a whole archive helps nobody; the hint says how to list it
    meant = "" if not near else f"; known: {near[7:]}." if near.startswith("one of ") else f"; did you mean {near}?"
    return MetrographError(f"there is no {what} “{name}”{meant or '.'} {hint}".rstrip())
