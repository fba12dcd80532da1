"""Sets releases side by side in ledgers: readings, trials, facts, claims, weight. From digests of runs, and cards."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from statistics import median as middle

import msgspec

from metrograph.analysis.personal import Mask
from metrograph.model.cards import Release
from metrograph.model.ledgers import (
    CheckLedger,
    CheckRow,
    ClaimLedger,
    ClaimRow,
    Digest,
    FactLedger,
    FactRow,
    Figure,
    ReadingLedger,
    ReadingRow,
    Standing,
    Verdict,
    Weight,
    WeightLedger,
)
from metrograph.model.lexicon import Lexicon
from metrograph.model.ranges import Range, median
from metrograph.model.runs import Reading

_GOOD: dict[str, int] = {"fail": 0, "mixed": 1, "partly": 1, "pass": 2}
_STATES = ("live", "installed", "updated")


class Group(msgspec.Struct, frozen=True):
    """Releases that are set side by side, oldest first, with their runs and what is known of each.

    lines: for each release the line that it continues, such as ``Larkmoor Heron``: only releases of one line are held
        against each other.
    """

    runs: dict[str, list[Digest]]
    lines: tuple[str, ...]
    cards: Mapping[str, Release] = {}

    @property
    def releases(self) -> tuple[str, ...]:
        """Their ids."""
        return tuple(self.runs)


def group(digests: Iterable[Digest], cards: Mapping[str, Release], one_line: bool = False) -> Group:
    """Runs by release: by line, and within one by the day the release came out, or else its first run was begun.

    one_line: whether all are held against each other, whatever line they belong to.
    """
    found: dict[str, list[Digest]] = {}
    for each in digests:
        found.setdefault(each.release, []).append(each)
    lines = {name: "" if one_line else line_of(name, cards.get(name)) for name in found}
    order = sorted(found, key=lambda name: (lines[name], _day(name, found[name], cards), name))
    return Group({name: found[name] for name in order}, tuple(lines[name] for name in order), cards)


def line_of(release: str, card: Release | None) -> str:
    """What a release continues: its distribution and edition, from its card or else from its id."""
    if card is not None and card.distribution:
        return " ".join(word for word in (card.distribution, card.edition) if word)
    return re.sub(r"-\d[^-]*", "", release, count=1)


def _day(name: str, runs: Sequence[Digest], cards: Mapping[str, Release]) -> str:
    card = cards.get(name)
    first = min((run.begun.date() for run in runs if run.begun), default=None)
    known = (card.released if card else None) or first
    return known.isoformat() if known else ""


# -- readings ----------------------------------------------------------------------------------------------------------


def readings_ledger(group: Group, lexicon: Lexicon) -> ReadingLedger:
    """Figures by release, a row for each name, unit, state and load."""
    keys: dict[tuple[str, str, str, str | None], None] = {}
    for digests in group.runs.values():
        keys |= dict.fromkeys(_key(reading) for each in digests for reading in each.readings)
    names = list(dict.fromkeys(name for name, *_ in keys))
    ordered = sorted(keys, key=lambda key: (names.index(key[0]), _STATES.index(key[2]), key[3] or ""))
    columns = {release: _values(digests) for release, digests in group.runs.items()}
    rows = tuple(_reading_row(key, group, columns, lexicon) for key in ordered)
    return ReadingLedger(group.releases, group.lines, rows)


def _key(reading: Reading) -> tuple[str, str, str, str | None]:
    return reading.name, reading.unit, reading.state, reading.load


Values = Mapping[tuple[str, str, str, str | None], Sequence[float]]


def _values(digests: Sequence[Digest]) -> dict[tuple[str, str, str, str | None], list[float]]:
    """The values of a release's runs; of several in one run and state, the last."""
    found: dict[tuple[str, str, str, str | None], list[float]] = {}
    for each in digests:
        for key, value in {_key(reading): reading.value for reading in each.readings}.items():
            found.setdefault(key, []).append(value)
    return found


def _reading_row(
    key: tuple[str, str, str, str | None], group: Group, columns: Mapping[str, Values], lexicon: Lexicon
) -> ReadingRow:
    name, unit, state, load = key
    figures = [_figure(columns[release].get(key, ())) for release in group.releases]
    measure = lexicon.measures.get(name)
    concerned = {line for line, figure in zip(group.lines, figures, strict=True) if figure is not None}
    elsewhere = [
        release
        for release, line, figure in zip(group.releases, group.lines, figures, strict=True)
        if figure is None and line in concerned and any(other[0] == name for other in columns[release])
    ]
    warning = f"{', '.join(elsewhere)}: taken in another state only, which cannot be compared" if elsewhere else None
    differences = _differences([figure.value if figure else None for figure in figures], group.lines)
    better = measure.better if measure else None
    return ReadingRow(name, unit, state, load, better, tuple(figures), differences, warning)


def _figure(values: Sequence[float]) -> Figure | None:
    return Figure(middle(values), len(values), min(values), max(values)) if values else None


def _differences(values: Sequence[float | None], lines: Sequence[str]) -> tuple[float | None, ...]:
    """Each value less the last before it in its line that is known."""
    last: dict[str, float] = {}
    found: list[float | None] = []
    for value, line in zip(values, lines, strict=True):
        found.append(None if value is None or line not in last else value - last[line])
        last |= {} if value is None else {line: value}
    return tuple(found)


# -- trials ------------------------------------------------------------------------------------------------------------


def checks_ledger(group: Group) -> CheckLedger:
    """Trials by release."""
    names = dict.fromkeys(check.name for digests in group.runs.values() for each in digests for check in each.checks)
    return CheckLedger(group.releases, group.lines, tuple(_check_row(name, group) for name in names))


def _check_row(name: str, group: Group) -> CheckRow:
    results = [
        _standing({check.result for each in digests for check in each.checks if check.name == name})
        for digests in group.runs.values()
    ]
    goods = [float(_GOOD[result]) if result in _GOOD else None for result in results]
    changes = list(zip(group.releases, _differences(goods, group.lines), strict=True))
    worse = tuple(release for release, change in changes if change is not None and change < 0)
    better = tuple(release for release, change in changes if change is not None and change > 0)
    return CheckRow(name, tuple(results), worse, better)


def _standing(results: set[str]) -> Standing:
    """What a release's runs make together; a trial that some skipped counts as the others have it."""
    made = results - {"skipped"}
    if len(made) > 1:
        return "mixed"
    word = next(iter(made or results), "not tried")
    known: dict[str, Standing] = {"pass": "pass", "fail": "fail", "partly": "partly", "skipped": "skipped"}
    return known.get(word, "not tried")


# -- facts -------------------------------------------------------------------------------------------------------------


def facts_ledger(group: Group, show_personal: bool = False) -> FactLedger:
    """Facts by release, and what became of each from one release of a line to the next.

    show_personal: whether what tells who or where is shown as it is; it is masked otherwise.
    """
    names = dict.fromkeys(fact.name for digests in group.runs.values() for each in digests for fact in each.facts)
    return FactLedger(group.releases, group.lines, tuple(_fact_row(name, group, show_personal) for name in names))


def _fact_row(name: str, group: Group, show_personal: bool) -> FactRow:
    values = [_fact_values(name, digests) for digests in group.runs.values()]
    personal = any(
        fact.personal for own in group.runs.values() for run in own for fact in run.facts if fact.name == name
    )
    before: dict[str, str | None] = {}
    verdicts: list[Verdict] = []
    for value, line in zip(values, group.lines, strict=True):
        verdicts.append(_verdict(before[line], value) if line in before else "first")
        before[line] = value
    if not show_personal:
        mask = Mask([])
        values = [None if value is None else f"[{name}]" if personal else mask.apply(value) for value in values]
    return FactRow(name, tuple(values), tuple(verdicts), personal)


def _fact_values(name: str, digests: Sequence[Digest]) -> str | None:
    values = dict.fromkeys(fact.value for each in digests for fact in each.facts if fact.name == name)
    return ", ".join(values) or None


def _verdict(before: str | None, after: str | None) -> Verdict:
    if before is None or after is None:
        return "absent" if before == after else "new" if before is None else "dropped"
    if before == after:
        return "same"
    old, new = _version(before), _version(after)
    if old is None or new is None or old[0] != new[0]:
        return "replaced"
    return "raised" if new[1] > old[1] else "lowered"


def _version(text: str) -> tuple[str, tuple[int, ...]] | None:
    """What a value names and its version's numbers: ``Kettle 4.2`` is Kettle and 4, 2; None without numbers."""
    found = re.search(r"\d+(?:\.\d+)*", text)
    if found is None:
        return None
    return text[: found.start()].strip().casefold(), tuple(map(int, found[0].split(".")))


# -- claims ------------------------------------------------------------------------------------------------------------


def claims_ledger(group: Group) -> ClaimLedger:
    """What is published of each release against what was measured."""
    rows = []
    for release, digests in group.runs.items():
        card = group.cards.get(release)
        if card is not None:
            rows += _claim_rows(release, card, digests)
    return ClaimLedger(tuple(rows))


def _claim_rows(release: str, card: Release, digests: Sequence[Digest]) -> list[ClaimRow]:
    claims, minimum = card.claims, card.minimum
    memory = _read(digests, "memory")
    disk = _read(digests, "disk used")
    installed = [run.installed for run in digests if run.installed]
    table = [
        ("memory at rest", "bytes", claims and claims.memory, memory),
        ("disk used", "bytes", claims and claims.disk, disk),
        ("time until installed", "s", claims and claims.installation, installed),
        ("boot time", "s", claims and claims.boot, _read(digests, "boot time")),
        ("memory that it needs at least", "bytes", minimum and minimum.memory, memory),
        ("disk that it needs at least", "bytes", minimum and minimum.disk, disk),
    ]
    return [_claim(release, what, unit, published, own) for what, unit, published, own in table if published]


def _claim(release: str, what: str, unit: str, published: float, measured: Sequence[Range]) -> ClaimRow:
    found = median(list(measured)) if measured else None
    holds = None
    if found is not None and found.high is not None and found.high <= published:
        holds = True
    elif found is not None and found.low > published:
        holds = False
    return ClaimRow(release, what, unit, float(published), found, len(measured), holds)


def _read(digests: Sequence[Digest], name: str) -> list[Range]:
    """A reading of the installed system at rest, before the update, one a run."""
    found = []
    for each in digests:
        own = [r.value for r in each.readings if r.name == name and r.state == "installed" and r.load != "busy"]
        found += [Range(own[-1], own[-1])] if own else []
    return found


# -- weight and first update -------------------------------------------------------------------------------------------


def weight_ledger(group: Group) -> WeightLedger:
    """What each release weighs until it can be worked with, and what its first update was."""
    rows = (_weight(release, digests, group.cards.get(release)) for release, digests in group.runs.items())
    return WeightLedger(group.releases, group.lines, tuple(rows))


def _weight(release: str, digests: Sequence[Digest], card: Release | None) -> Weight:
    image = card.image_size if card else None
    added_download = _middle([float(sum(each.download or 0 for each in run.added)) for run in digests]) or 0.0
    added_disk = _middle([float(sum(each.disk or 0 for each in run.added)) for run in digests]) or 0.0
    update = _middle(_last(digests, "update download"))
    used = _middle([each.low for each in _read(digests, "disk used")])
    updated = [(run.update_time, run.installed) for run in digests if run.update_time is not None]
    times = [took for took, _ in updated]
    share = [took.low / installed.low for took, installed in updated if installed is not None and installed.low]
    ages = [float((run.begun.date() - card.released).days) for run in digests if card and card.released and run.begun]
    asked = [fact.value for run in digests for fact in run.facts if fact.name == "restart after update"]
    return Weight(
        release=release, runs=len(digests), image=image, added_download=added_download, added_disk=added_disk,
        update_download=update, updates=_middle(_last(digests, "updates")),
        download=None if image is None and update is None else (image or 0) + added_download + (update or 0),
        disk=None if used is None else used + added_disk, update_time=median(times) if times else None,
        update_share=_middle(share), restart=(asked[-1] in {"yes", "needed"}) if asked else None, age=_middle(ages),
        released=card.released if card else None,
    )  # fmt: skip


def _last(digests: Sequence[Digest], name: str) -> list[float]:
    """The last reading of a name in each run that has one, whatever the state."""
    every = ([reading.value for reading in each.readings if reading.name == name] for each in digests)
    return [own[-1] for own in every if own]


def _middle(values: Sequence[float]) -> float | None:
    return float(middle(values)) if values else None
