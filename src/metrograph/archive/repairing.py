"""Mends an archive: what can be derived is thrown away and derived anew, and no log is ever thrown away."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence

import msgspec

from metrograph.archive.building import ALL_CORES, Built, Workers, build, logs_of
from metrograph.archive.checking import ASIDE, FOLDERS, Damage, FoundDamage, check
from metrograph.archive.parts import catalogue, list_path, table_path
from metrograph.archive.place import HALF, ArchivePlace
from metrograph.archive.shared_logs import taken_back
from metrograph.archive.tables import SCHEMA

PATIENCE = 3600.0
"""Seconds for which a file that no list names may belong to a writer who is at it."""

_HARMED = frozenset({Damage.CHANGED, Damage.MISSING, Damage.UNREADABLE, Damage.FORGED})
"""What is wrong with a part that has to be derived anew."""


class Repaired(msgspec.Struct, frozen=True):
    """The result of a repair.

    aside: logs that are not what their names say; removed: files that are derived anew, or that nobody needs.
    """

    aside: tuple[str, ...]
    removed: tuple[str, ...]
    built: Built


def repair(
    place: ArchivePlace, workers: Workers = ALL_CORES, quick: bool = False, patience: float = PATIENCE
) -> Repaired:
    """Takes away what is damaged, forged, repeated, half-written, of another version or taken back, and builds anew.

    quick: as for ``check``. patience: in seconds, how old a file has to be that nobody knows of.
    """
    found = check(place, workers, quick).found
    aside = [each.file for each in found if each.file.startswith("logs/") and each.damage is Damage.CHANGED]
    for path in aside:
        place.set_aside(path, f"{ASIDE}/{path.rpartition('/')[2]}")
    removed = _removed(place, _harmed(place, found))
    built = build(place, workers)
    removed += _removed(place, _needless(place))
    removed += _removed(place, _unknown(place, patience))
    return Repaired(tuple(aside), tuple(removed), built)


def _removed(place: ArchivePlace, paths: Iterable[str]) -> list[str]:
    """Takes files away; those that were there."""
    removed = [path for path in dict.fromkeys(paths) if place.has(path)]
    for path in removed:
        place.remove(path)
    return removed


def _harmed(place: ArchivePlace, found: Sequence[FoundDamage]) -> Iterator[str]:
    """The lists of parts that are not what they should be, or have logs that were taken back, and their bad files."""
    harmed = {each.file for each in found if each.damage in _HARMED and not each.file.startswith("logs/")}
    gone = taken_back(place)
    yield from sorted(path for path in harmed if path.startswith("parts/"))
    for name, part in catalogue(place).parts.items():
        files = {table_path(table, file.sha256) for table, file in part.files.items()}
        if files & harmed or (gone and not gone.isdisjoint(logs_of(place, part))):
            yield list_path(name)
    yield from sorted(path for path in harmed if path.startswith("tables/"))


def _needless(place: ArchivePlace) -> Iterator[str]:
    """The lists of parts whose logs others have that count before them, unless a later program has made them."""
    known = catalogue(place)
    yield from (path for path, schema in known.foreign.items() if schema < SCHEMA)
    yield from (list_path(name) for name in known.repeated)
    seen: set[str] = set()
    for name, part in known.counted.items():
        logs = set(logs_of(place, part))
        if logs <= seen and not part.is_of_later:
            yield list_path(name)
        seen |= logs


def _unknown(place: ArchivePlace, patience: float) -> Iterator[str]:
    """Files that no list names, nor any writer that may be at it; none where a later program has lists of its own."""
    known = catalogue(place)
    listed = {table_path(table, file.sha256) for part in known.parts.values() for table, file in part.files.items()}
    for path in place.names(""):
        half = path.endswith(HALF) and path.partition("/")[0] in FOLDERS
        strange = path.startswith("tables/") and path not in listed and not known.foreign
        if (half or strange) and place.age(path) > patience:
            yield path
