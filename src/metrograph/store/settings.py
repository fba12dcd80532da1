"""The settings of a logbook: kinds of screen, personal keys, readings, a checklist, rulings, sizes."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any

import msgspec

from metrograph.core.errors import MetrographError, refused
from metrograph.log.faults import suggest
from metrograph.log.lexicon import Checklist, Kind, Lexicon, ReadingKind, load_lexicon
from metrograph.log.quantities.units import Family
from metrograph.run.route import Rulings

_EXPECTED = {
    "about": "a part between 0 and 1, such as 0.1",
    "sizes": "binary or decimal",
    "personal": "a list of words in quotes",
    "kinds": "a table with words, phases and unattended",
    "measures": "a table with unit and better",
    "checklist": "a table with the lists checks, readings, tweaks and additions",
    "same-as": "titles in quotes, each with a title or a list of titles",
    "not-same-as": "titles in quotes, each with a title or a list of titles",
}
"""What each setting may hold."""


class _SettingsTable(msgspec.Struct, frozen=True, rename={"same_as": "same-as", "not_same_as": "not-same-as"}):
    """The table in ``metrograph.toml``; see ``Lexicon`` for its meaning.

    readers: whom releases are chosen for, read by those alone who choose.
    """

    kinds: dict[str, Kind] = {}
    personal: tuple[str, ...] = ()
    measures: dict[str, ReadingKind] = {}
    checklist: Checklist = Checklist()
    same_as: dict[str, str | tuple[str, ...]] = {}
    not_same_as: dict[str, str | tuple[str, ...]] = {}
    about: Annotated[float, msgspec.Meta(gt=0, lt=1)] | None = None
    sizes: Family | None = None
    readers: Any = None


class Settings(msgspec.Struct, frozen=True):
    """The settings that hold for a logbook.

    lexicon: what screens are for, and what readings there are, own ones included.
    checklist: what should be tried and read in every run.
    rulings: what was decided about screens.
    sizes: the family that sizes are shown in; None for the one they were said in.
    """

    lexicon: Lexicon
    checklist: Checklist = Checklist()
    rulings: Rulings = Rulings()
    sizes: Family | None = None


def usual_settings() -> Settings:
    """The settings of somebody who has set nothing."""
    return Settings(load_lexicon())


def parse_settings(data: bytes, file: str) -> Settings:
    """The settings that a file holds; raises MetrographError when it holds anything else."""
    import tomllib

    try:
        values = tomllib.loads(data.decode())
        unknown = values.keys() - set(_SettingsTable.__struct_encode_fields__)
        if unknown:
            name = min(unknown)
            expected = suggest(name, _SettingsTable.__struct_encode_fields__)
            at = _line_of((name,), data.decode())
            raise MetrographError(f"{file}:{at}: there is no setting “{name}”; expected: {expected}")
        written = msgspec.convert(values, _SettingsTable)
    except UnicodeDecodeError as error:
        line = data.count(b"\n", 0, error.start) + 1
        raise MetrographError(f"{file}:{line}: this is not UTF-8") from error
    except (tomllib.TOMLDecodeError, RecursionError, ValueError) as error:
        raise MetrographError(_in_our_words(error, file, data.decode())) from error
    lexicon = load_lexicon().with_own(written.kinds, written.personal, written.measures, written.about)
    rulings = Rulings(_pairs(written.same_as), _pairs(written.not_same_as))
    return Settings(lexicon, written.checklist, rulings, written.sizes)


def _in_our_words(error: Exception, file: str, text: str) -> str:
    """What a library says of a setting, as a sentence with its line that names it and what could stand there."""
    what, place = refused(error)
    if not place:
        return f"{file}: this is not TOML: {what[:200]}"
    setting = place.replace("[...]", "")
    expected = _EXPECTED.get(setting.partition(".")[0], "what docs/run-log.md describes")
    at = _line_of(setting.split("."), text)
    return f"{file}:{at}: “{setting}” has a wrong value; expected: {expected}"


def _pairs(table: dict[str, str | tuple[str, ...]]) -> frozenset[frozenset[str]]:
    """Each title of a table with each that it stands beside."""
    every = ((title, (beside,) if isinstance(beside, str) else beside) for title, beside in table.items())
    return frozenset(frozenset((title, other)) for title, beside in every for other in beside)


def _line_of(place: Sequence[str], text: str) -> int:
    """The line of a setting. What finds it is loaded for a fault alone: every cue reads the settings."""
    from metrograph.store.local.toml_places import line_of, places

    return line_of(place, places(text))
