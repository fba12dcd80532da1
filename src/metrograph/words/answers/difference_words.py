"""Says how figures of two releases differ, and where that arises: in times by phase, in sizes by their parts."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.findings.finding_records import Amount, DifferenceStep, Finding, Sureness, Way
from metrograph.findings.of_figures import SWAP_FILE
from metrograph.ledgers.comparison import Comparison
from metrograph.log.lexicon import Unit, is_after_restart
from metrograph.measures.show import show_change
from metrograph.words.figure_words import told_difference
from metrograph.words.grammar import listed

REACHED = {
    "installed": "is installed", "desktop": "reaches the desktop", "hands-on": "keeps a person busy for",
    "updated": "is fully updated",
}  # fmt: skip
_LEAST_PART = 0.15  # of a difference: what is less explains none of it


def reached(name: str, told: str) -> str:
    """A difference in a moment, ``is installed 2:00 sooner``, or in a person's time."""
    return f"{REACHED[name]} {_amount(name, told)}"


def _amount(name: str, told: str) -> str:
    """Of a person's time there is more or less, it is not longer."""
    return told.replace("longer", "more").replace("shorter", "less") if name == "hands-on" else told


def times(findings: Sequence[Finding], comparison: Comparison) -> str:
    """When the later release is installed and up to date, against the earlier, and why."""
    earlier, later = findings[0].of
    findings = sorted(findings, key=lambda each: list(REACHED).index(each.detail.name))  # type: ignore[union-attr]
    text = ""
    for place, each in enumerate(findings):
        assert isinstance(each.detail, Amount)  # noqa: S101 - by what is told here
        verb = REACHED[each.detail.name]
        if each.sure is Sureness.LIKELY:
            verb = verb.replace("is ", "is probably ", 1) if verb.startswith("is ") else f"probably {verb}"
        name = each.detail.name
        differs = _amount(name, told_difference(each.detail.before, each.detail.after, each.detail.unit, name))
        if not place:
            text = f"{later} {verb} {differs} than {earlier}"
        else:
            joint = "and" if each.way is findings[0].way else "but"
            text += f", {joint} {verb.removeprefix('is ')} {differs}"
        cause = _cause(each, comparison)
        text += f": {cause}" if cause and place == len(findings) - 1 else ""
    return text


def _cause(finding: Finding, comparison: Comparison) -> str:
    """Where a difference in time arises, as far as it is known."""
    assert isinstance(finding.detail, Amount)  # noqa: S101 - by what is told here
    if finding.detail.name == "updated" and (waited := _waiting_updates(finding, comparison)):
        return waited
    steps = finding.detail.steps
    whole = sum(step.amount for step in steps)
    told = [step for step in steps if step.amount * whole > 0 and abs(step.amount) >= _LEAST_PART * abs(whole)]
    return ", and ".join(text for step in told[:2] if (text := _step(step, finding, comparison)))


_STEPS = {
    "boot": "starting up is {} {}", "live": "the look at the live session is {} {}", "copy": "copying is {} {}",
    "restart": "restarting is {} {}", "setup": "setting up after the restart is {} {}", "update": "the update is {} {}",
}  # fmt: skip


def _step(step: DifferenceStep, finding: Finding, comparison: Comparison) -> str:
    size = show_change(abs(step.amount), Unit.SECONDS, "installed")
    if step.name == "questions":
        less = f"the questions before the restart take {size} {'more' if step.amount > 0 else 'less'}"
        put_off = _put_off(finding, comparison)
        if step.amount < 0 < put_off <= -step.amount:
            less += f", of which {show_change(put_off, Unit.SECONDS, 'installed')} come after it"
        return less
    form = _STEPS.get(step.name)
    lacking = _without(step.name, finding, comparison)
    if form is None or lacking == _NO_LOOK:
        return f"no live session was looked at, which took {size} before" if form else ""
    words = ("slower", "quicker") if step.name in {"boot", "copy", "restart"} else ("longer", "shorter")
    return form.format(size, words[step.amount < 0])


def _put_off(finding: Finding, comparison: Comparison) -> float:
    """Seconds that the earlier release spends on screens that come after the restart now; 0 where that is not known."""
    before, after = (comparison.releases.index(name) for name in finding.of)
    spent = 0.0
    for row in comparison.rows:
        one, other = row.cells[before], row.cells[after]
        if one is None or other is None or one.on_clock is None or not one.on_clock.exact:
            continue
        if is_after_restart(other.phase) and not is_after_restart(one.phase):
            spent += one.on_clock.low
    return spent


_NO_LOOK = "live"


def _without(phase: str, finding: Finding, comparison: Comparison) -> str:
    """The phase, where the later release had none of it."""
    return "" if phase in comparison.times[comparison.releases.index(finding.of[1])].phases else phase


def _waiting_updates(finding: Finding, comparison: Comparison) -> str:
    """How many updates waited, after how many days, where both releases say so."""
    said = []
    counts = next((row for row in comparison.readings if row.name == "updates" and not row.unit), None)
    for name in finding.of:
        place = comparison.releases.index(name)
        count = counts.values[place] if counts is not None else None
        age = comparison.times[place].image_age
        if count is None or not count.exact or age is None or age.high is None:
            return ""
        days = f"{age.low:g} days" if age.exact else f"{age.low:g} to {age.high:g} days"
        said.append((f"{count.low:g}", days.replace("1 days", "1 day") if age.low == age.high == 1 else days))
    (before, was), (after, now) = said
    same = was == now
    return (
        f"{after} updates waited, {before} before"
        if same
        else f"{after} updates waited after {now}, {before} after {was}"
    )


_SIZES = {
    "memory": "{} memory at rest", "update download": "{} to fetch for its first update", "disk used": "{} of the disk",
    "download": "{} to fetch",
}  # fmt: skip


def sizes(findings: Sequence[Finding], comparison: Comparison) -> str:
    """What the later release takes of the machine, more or less than the earlier."""
    earlier, later = findings[0].of
    worse, better = (
        [_one_size(each, comparison) for each in findings if (each.way is Way.BETTER) == good] for good in (False, True)
    )
    probably = "probably " if all(each.sure is Sureness.LIKELY for each in findings) else ""
    first, *rest = [each for each in (worse, better) if each]
    first[0] += f" than {earlier}"
    return f"{later} {probably}takes {', but '.join(map(listed, (first, *rest)))}"


def _one_size(finding: Finding, comparison: Comparison) -> str:
    assert isinstance(finding.detail, Amount)  # noqa: S101 - by what is told here
    detail = finding.detail
    own, file = (
        next((step.amount for step in detail.steps if (step.name == SWAP_FILE) == is_file), None)
        for is_file in (False, True)
    )
    told = told_difference(detail.before, detail.after, detail.unit, detail.name)
    had = comparison.times[comparison.releases.index(finding.of[0])].swap_file
    thing, _, state = detail.name.removesuffix(")").rpartition(" (")
    said = size_told(thing, told, own or 0.0, file or 0.0, made=had == 0)
    return said if state == "installed" else f"{said} ({state})"


def size_told(thing: str, told: str, own: float, file: float, made: bool = False) -> str:
    """A difference in a size. told: all of it; own, file: bytes of the system itself, and of its swap file, if it grew.

    made: whether there was no swap file before.
    """
    if not file:
        return _SIZES.get(thing, "{} " + thing).format(told)
    size, grown = (show_change(abs(value), Unit.BYTES) for value in (own, file))
    beside = f"a swap file of {grown}" if made else f"a swap file that is {grown} {'larger' if file > 0 else 'smaller'}"
    return f"{size} {'more' if own > 0 else 'less'} of the disk beside {beside}"
