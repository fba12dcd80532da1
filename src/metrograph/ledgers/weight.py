"""The ledger of weights: what a release weighs until it can be worked with, and what its first update was."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping, Sequence

import msgspec

from metrograph.ledgers.digests.digest import Digest
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.ledgers.readings import usual_swap_file
from metrograph.log.quantities.ranges import ZERO, Range, median, share, total
from metrograph.log.quantities.times import days_since
from metrograph.measures.reducing import at_rest
from metrograph.measures.selection import Selection
from metrograph.run.cards import Release
from metrograph.run.noted import Addition


class Weight(msgspec.Struct, frozen=True):
    """The bytes that a release takes until it can be worked with; None where they were not noted.

    image: to be downloaded before anything else.
    added_download, added_disk: software that had to be added, of the runs that added any; open where a size is unknown.
    update_download: of the first update; updates: how many packages it had.
    download: all that is to be downloaded; open where the image or the first update is unknown, as it is more then.
    disk: used after the installation, with what was added; swap_file: the file for swapping that lies in it.
    update_time: how long the first update took; its share of the time until installed, as a part of one.
    restart: whether a restart was asked for after it.
    age: days from the release to the installation.

    Figures of several runs are their medians.
    """

    release: str
    runs: int
    image: int | None
    added_download: Range | None
    added_disk: Range | None
    update_download: Range | None
    updates: Range | None
    download: Range | None
    disk: Range | None
    swap_file: Range | None
    update_time: Range | None
    update_share: Range | None
    restart: bool | None
    age: Range | None
    released: str | None


WEIGHTS: Mapping[str, Callable[[Weight], Range | None]] = {
    "image": lambda weight: None if weight.image is None else Range(weight.image, weight.image),
    "added": lambda weight: weight.added_download,
    "first update": lambda weight: weight.update_download,
    "downloaded in all": lambda weight: weight.download,
    "on the disk in all": lambda weight: weight.disk,
}
"""The sizes of a release by the names that people know them by."""


class WeightLedger(msgspec.Struct, frozen=True):
    """Weights by release."""

    releases: tuple[str, ...]
    lines: tuple[str, ...]
    rows: tuple[Weight, ...]
    selections: Mapping[str, Selection] = {}


class Fit(msgspec.Struct, frozen=True):
    """Whether all that a release asks to be downloaded keeps to a limit.

    fits: None where what is known leaves it open.
    left: bytes of the limit that are left, at least and at most; below nothing where it is too much, and None where
        nobody knows.
    """

    release: str
    download: Range | None
    fits: bool | None
    left: tuple[float | None, float | None]


def fits(ledger: WeightLedger, limit: float) -> tuple[Fit, ...]:
    """How each release stands to a limit in bytes."""
    return tuple(_fit(weight.release, weight.download, limit) for weight in ledger.rows)


def _fit(release: str, download: Range | None, limit: float) -> Fit:
    if download is None:
        return Fit(release, None, None, (None, None))
    least, most = download.low, download.high
    keeps = False if least > limit else True if most is not None and most <= limit else None
    return Fit(release, download, keeps, (None if most is None else limit - most, limit - least))


def weight_ledger(group: ReleaseGroup) -> WeightLedger:
    """What each release weighs until it can be worked with, and what its first update was."""
    rows = (_weight(release, runs, group.cards.get(release)) for release, runs in group.measured.items())
    return WeightLedger(group.releases, group.lines, tuple(rows), group.selections)


def _weight(release: str, runs: Sequence[Digest], card: Release | None) -> Weight:
    image = card.image_size if card else None
    added_download = _added(runs, lambda addition: addition.download)
    added_disk = _added(runs, lambda addition: addition.disk)
    update, updates = _middle(_read(runs, "update download")), _middle(_read(runs, "updates"))
    used = _middle(_read(runs, "disk used", "installed"))
    return Weight(
        release=release,
        runs=len(runs),
        image=image,
        added_download=added_download,
        added_disk=added_disk,
        update_download=update,
        updates=updates,
        download=_whole(
            None if image is None else Range(image, image), added_download or ZERO, ZERO if updates == ZERO else update
        ),
        disk=None if used is None else _whole(used, added_disk or ZERO),
        swap_file=None if (file := usual_swap_file(runs)) is None else Range(file, file),
        update_time=_middle([run.update_time for run in runs if run.update_time is not None]),
        update_share=_middle(_shares(runs)),
        restart=_restart(runs),
        age=_middle(_ages(runs, card)),
        released=card.released if card else None,
    )


def _added(runs: Sequence[Digest], size: Callable[[Addition], Range | None]) -> Range | None:
    """What the runs that added anything added together; what has no size makes it open."""
    sums = [total(size(addition) or _UNKNOWN for addition in run.added) for run in runs if run.added]
    return _middle(sums)


def _whole(*parts: Range | None) -> Range | None:
    """Their sum, at least what is known of it; None where that is nothing."""
    amount = total(part or _UNKNOWN for part in parts)
    return None if amount == _UNKNOWN else amount


def _read(runs: Sequence[Digest], name: str, state: str | None = None) -> list[Range]:
    """A reading of each run that has it, in one state or in any."""
    values = (at_rest(run.readings, name, state) for run in runs)
    return [value for value in values if value is not None]


def _shares(runs: Sequence[Digest]) -> list[Range]:
    """The first update's time as a part of the time until installed."""
    pairs = ((run.update_time, run.installed) for run in runs)
    parts = (share(took, until) for took, until in pairs if took is not None and until is not None)
    return [part for part in parts if part is not None]


def _restart(runs: Iterable[Digest]) -> bool | None:
    asked = [fact.value for run in runs for fact in run.facts if fact.name == "restart after update"]
    return asked[-1] in {"yes", "needed"} if asked else None


def _ages(runs: Sequence[Digest], card: Release | None) -> list[Range]:
    if card is None or card.released is None:
        return []
    return [days_since(card.released, run.begun.date()) for run in runs if run.begun]


def _middle(values: Sequence[Range]) -> Range | None:
    return median(values) if values else None


_UNKNOWN = Range(0.0, None)
