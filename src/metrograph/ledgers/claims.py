"""Holds what is published of a release against what was measured, and of an image against what was read."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from datetime import date
from enum import StrEnum

import msgspec

from metrograph.ledgers.digests.digest import Digest, details
from metrograph.ledgers.digests.release_groups import ReleaseGroup, candidate_of
from metrograph.log.lexicon import Unit
from metrograph.log.quantities.ranges import Range, made_of, median
from metrograph.log.quantities.times import days_since
from metrograph.measures.reducing import at_rest, read_otherwise
from metrograph.measures.selection import Selection, select
from metrograph.run.cards import Release, Rig


class ClaimRow(msgspec.Struct, frozen=True):
    """Something published of a release, against what was measured.

    what: such as ``memory at rest``; measure: what of a run is held against it, such as ``memory``.
    published: bytes or seconds; quoted: as the card has it.
    measured: the median of the release's runs, in the same unit, None when nobody did.
    holds: None when it was not measured, or what is known of either leaves it open, as of a need that is
        not contradicted.
    otherwise: where it was not measured so, in which states and under which loads it was; empty where in none.
    """

    release: str
    what: str
    measure: str
    unit: Unit
    published: Range
    quoted: str
    measured: Range | None
    runs: int
    holds: bool | None
    otherwise: str = ""


class RanOn(msgspec.Struct, frozen=True):
    """The rigs that a release has run on whose needs nobody has published.

    memory, disk: bytes of the rigs that it came to its end on, each once, the least first.
    """

    release: str
    memory: tuple[int, ...]
    disk: tuple[int, ...]


class ClaimLedger(msgspec.Struct, frozen=True):
    """Claims by release.

    ran_on: of releases without published needs.
    """

    rows: tuple[ClaimRow, ...]
    selections: Mapping[str, Selection] = {}
    ran_on: tuple[RanOn, ...] = ()


def claims_ledger(group: ReleaseGroup, rigs: Mapping[str, Rig] | None = None) -> ClaimLedger:
    """What is published of each release against what was measured. rigs: by id, as far as there are cards."""
    rows = []
    for release, every in group.runs.items():
        runs = _on_its_rig(every)
        card = group.cards.get(release)
        if card is not None:
            rows += [row for claim in _CLAIMS if (row := claim.row(release, card, runs)) is not None]
    ran = (_ran_on(release, runs, rigs or {}) for release, runs in group.runs.items() if not _has_needs(group, release))
    return ClaimLedger(tuple(rows), group.selections, tuple(each for each in ran if each.memory or each.disk))


def _on_its_rig(runs: Sequence[Digest]) -> Sequence[Digest]:
    """The runs that say something, on the rig on which most of them were made.

    What is published of a release is held against the same runs of it, whatever else is looked at beside it.
    """
    fit = select({"": [candidate_of(run) for run in runs]}).of(runs)
    rigs = Counter(run.rig for run in fit)
    return [run for run in fit if run.rig == rigs.most_common(1)[0][0]]


def _has_needs(group: ReleaseGroup, release: str) -> bool:
    card = group.cards.get(release)
    return card is not None and any((card.minimum, card.recommended, card.needs))


def _ran_on(release: str, runs: Sequence[Digest], rigs: Mapping[str, Rig]) -> RanOn:
    cards = [rigs[run.rig] for run in runs if run.ended and run.screens and run.rig in rigs]
    memory, disk = ({value for card in cards if (value := getattr(card, key))} for key in ("memory", "disk"))
    return RanOn(release, tuple(sorted(memory)), tuple(sorted(disk)))


class _Claim(msgspec.Struct, frozen=True):
    """Something that a card may publish.

    table, field: where it stands there; take: what a run has measured of it.

    at_least: whether it is a need, which what was used can contradict and never prove.
    """

    what: str
    measure: str
    unit: Unit
    table: str
    field: str
    take: Callable[[Digest], Range | None]
    at_least: bool = False

    def row(self, release: str, card: Release, runs: Sequence[Digest]) -> ClaimRow | None:
        """The claim of one release; None where its card publishes no such thing."""
        published = getattr(getattr(card, self.table), self.field, None)
        if published is None:
            return None
        amount: Range = published.amount
        values = [value for value in map(self.take, runs) if value is not None]
        measured = median(values) if values else None
        return ClaimRow(
            release, self.what, self.measure, self.unit, amount, published.text, measured, len(values),
            None if (holds := _holds(amount, measured)) and self.at_least else holds,
            "" if values else read_otherwise((reading for run in runs for reading in run.readings), self.measure),
        )  # fmt: skip


def _installed(name: str) -> Callable[[Digest], Range | None]:
    """A reading of the installed system at rest, before the update."""
    return lambda run: at_rest(run.readings, name, "installed")


def _disk_used(run: Digest) -> Range | None:
    """What the installed system itself uses, without the file for swapping that was made beside it."""
    used, file = at_rest(run.readings, "disk used", "installed"), details(run).swap_file
    if used is None or not file:
        return used
    return made_of((used,), max(used.low - file, 0.0), None if used.high is None else max(used.high - file, 0.0))


_CLAIMS = (
    _Claim("memory at rest", "memory", Unit.BYTES, "claims", "memory", _installed("memory")),
    _Claim("disk used, without a swap file", "disk used", Unit.BYTES, "claims", "disk", _disk_used),
    _Claim("time until installed", "installed", Unit.SECONDS, "claims", "installation", lambda run: run.installed),
    _Claim("boot time", "boot time", Unit.SECONDS, "claims", "boot", _installed("boot time")),
    # Memory in use on a machine that has more says nothing of how little is enough, so no need of it is held here.
    _Claim("disk that it needs at least", "disk used", Unit.BYTES, "minimum", "disk", _disk_used, at_least=True),
)


def _holds(published: Range, measured: Range | None) -> bool | None:
    """It holds where the most that was measured is no more than the least that was published; see ``holds``."""
    if measured is None:
        return None
    if measured.high is not None and measured.high <= published.low:
        return True
    return False if published.high is not None and measured.low > published.high else None


class Property(StrEnum):
    """A property of an image that is held against what is published."""

    SIZE = "size"
    SHA256 = "SHA-256 checksum"
    SHA512 = "SHA-512 checksum"


class Agreement(msgspec.Struct, frozen=True):
    """One property of an image. published, actual: bytes, or hexadecimal digits."""

    what: Property
    published: str
    actual: str

    @property
    def agrees(self) -> bool:
        """Whether the image is what was published."""
        return self.published == self.actual


class CheckedImage(msgspec.Struct, frozen=True):
    """An image and what came of holding it against its card.

    size: bytes; checksums: hexadecimal digits by method.
    age: days from the release to the install day; None when the card has no date.
    """

    size: int
    checksums: dict[str, str]
    properties: tuple[Agreement, ...]
    age: Range | None

    @property
    def is_right(self) -> bool:
        """Whether nothing is other than it was published."""
        return all(checked.agrees for checked in self.properties)


_METHODS = {"sha256": Property.SHA256, "sha512": Property.SHA512}


def hold_against(
    card: Release, size: int, checksums: dict[str, str], published: Sequence[str], day: date
) -> CheckedImage:
    """What of an image is right and what is wrong.

    published: checksums as a card writes them.
    day: of the installation.
    """
    properties = []
    if card.image_size is not None:
        properties.append(Agreement(Property.SIZE, str(card.image_size), str(size)))
    for checksum in dict.fromkeys(published):
        method, _, digits = checksum.partition(":")
        properties.append(Agreement(_METHODS[method], digits, checksums[method]))
    age = days_since(card.released, day) if card.released else None
    return CheckedImage(size, checksums, tuple(properties), age)
