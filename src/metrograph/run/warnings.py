"""Looks for places in a log that can be read but are probably not what was meant, and says what a run still lacks."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from enum import StrEnum
from itertools import pairwise

import msgspec

from metrograph.log.cues import Cue, Fault, Log
from metrograph.log.faults import suggest
from metrograph.log.lexicon import Lexicon
from metrograph.log.quantities.quantity import loose_unit
from metrograph.log.quantities.times import format_time
from metrograph.log.verbs import VERBS, Content, Rule, Trait
from metrograph.run.cards import Rig
from metrograph.run.disks import FOUND, layout_of, layout_warnings
from metrograph.run.folding.meanings import said_of
from metrograph.run.folding.trouble import called, troubles
from metrograph.run.folding.walk import lay_out
from metrograph.run.records import Run
from metrograph.run.scope import installs


def steps_left(usual: Iterable[str], said: Iterable[str]) -> list[str]:
    """The usual steps that nothing of what was said is: a step is taken where all its words were said together."""
    taken = [_words(text) for text in said]
    return [step for step in dict.fromkeys(usual) if not any(_words(step) <= words for words in taken)]


def _words(text: str) -> set[str]:
    return set(re.findall(r"[^\W_]+", text.casefold()))


_DAY = 86_400_000  # milliseconds
_AFTERWARDS = 2
"""Days without a cue from which on it was told afterwards, and given the time at which it was told."""
_LONG_SILENCE = 2 * 3600 * 1000
"""Milliseconds without a cue, hands on, after which somebody has probably gone away."""

_SIZED = frozenset({Content.SIZE, Content.DATA, Content.PART, Content.SWAP})
Warned = tuple[int, str, str]
"""The line of a cue, what is probably not meant, and what could stand there."""


class Lack(StrEnum):
    """Something that a finished run lacks to be compared with others."""

    SCREENS = "screens"
    DESKTOP = "desktop"
    LAYOUT = "layout"
    READINGS = "readings"
    CHECKS = "checks"
    FIX = "fix"


class Lacking(msgspec.Struct, frozen=True):
    """Something that a run lacks. issue: the summary of the issue that was not fixed; None of others."""

    what: Lack
    issue: str | None = None


def warnings(log: Log, lexicon: Lexicon, rig: Rig | None = None) -> tuple[Fault, ...]:
    """Every doubtful place of a log, by line.

    rig: the card of its rig, to hold disk layouts against; None when there is none.
    """
    cues = log.by_time()
    every = [*_end(cues), *_unfixed(cues), *_fixes_of_nothing(cues), *_pauses(cues), *_homeless(cues, lexicon)]
    every += [*_layouts(cues, rig or Rig()), *_same_moment(cues), *_endless(cues, lexicon), *_units(cues, lexicon)]
    every += _endless_tasks(cues)
    faults = (Fault(log.file, line, 1, "warning", message, expected=expected) for line, message, expected in every)
    return tuple(sorted(faults, key=lambda fault: fault.line))


def lacks(run: Run) -> list[Lacking]:
    """Something that a finished run lacks to be compared with others."""
    installing = installs(run.way)
    missing = {
        Lack.SCREENS: installing and not run.screens,
        Lack.DESKTOP: installing and run.milestones.desktop is None,
        Lack.LAYOUT: installing and run.layout is None,
        Lack.READINGS: not run.readings,
        Lack.CHECKS: not run.checks,
    }
    unfixed = [Lacking(Lack.FIX, issue.summary) for issue in run.issues if issue.fixed_at is None]
    return [Lacking(what) for what, is_so in missing.items() if is_so] + unfixed


def _end(cues: list[Cue]) -> list[Warned]:
    ends = [cue for cue in cues if cue.verb == "end"]
    if not ends:
        return [(cues[-1].line if cues else 1, "the run has no end", "end done, or end abandoned")]
    late = [cue for cue in cues if cue.at > ends[0].at]
    return [(cue.line, "this cue is later than the end of the run", "a time before the end") for cue in late]


def _unfixed(cues: list[Cue]) -> list[Warned]:
    # An issue that ended an attempt was not to be fixed in it.
    failed = {cue.field("issue") for cue in cues if cue.verb == "fail"}
    return [
        (cues[trouble.begin].line, "this issue was never fixed", f"fix {cues[trouble.begin].name}: how")
        for trouble in troubles(cues)
        if trouble.end is None and cues[trouble.begin].name is not None and cues[trouble.begin].name not in failed
    ]


def _fixes_of_nothing(cues: list[Cue]) -> list[Warned]:
    names = [called(cue) for cue in cues if cue.verb == "issue"]
    return [
        (cue.line, f"there is no issue “{cue.name}” to fix", suggest(cue.name or "", names))
        for cue in cues
        if VERBS[cue.verb].names == "issue" and cue.name not in names
    ]


def _endless_tasks(cues: list[Cue]) -> Iterator[Warned]:
    """Work that was begun and is not said to be over, or the other way round."""
    going: dict[str | None, int] = {}
    for cue in cues:
        if cue.verb == "task":
            going[cue.name] = cue.line
        elif cue.verb == "done" and going.pop(cue.name, None) is None:
            yield cue.line, f"there is no task “{cue.name}” under way", "task " + (next(iter(going), None) or "update")
    for name, line in going.items():
        yield line, f"the task “{name}” is not said to be over", f"done {name}"


def _pauses(cues: list[Cue]) -> Iterator[Warned]:
    paused = False
    for cue in cues:
        if cue.verb == "pause" and paused:
            yield cue.line, "the run was paused already", "resume before it"
        elif cue.verb == "resume" and not paused:
            yield cue.line, "the run was not paused", "pause before it"
        if cue.verb in {"pause", "resume"}:
            paused = cue.verb == "pause"


def _homeless(cues: list[Cue], lexicon: Lexicon) -> list[Warned]:
    places = lay_out(cues, lexicon).places
    return [
        (cue.line, "this choice belongs to no screen", "a screen before it")
        for cue, place in zip(cues, places, strict=True)
        if Trait.ANSWER in VERBS[cue.verb].traits and place.screen is None
    ]


def _layouts(cues: list[Cue], rig: Rig) -> Iterator[Warned]:
    # What was chosen on screens says what the disk has to be fit for.
    answers = {(cue.name or "").casefold(): cue.text for cue in cues if Trait.CHOICE in VERBS[cue.verb].traits}
    sleeps = any(answers.get(key) in {"yes", "on"} for key in ("hibernation", "sleep to disk"))
    encrypts = answers.get("encryption") not in {None, "no", "off", "none"}
    for cue in cues:
        if cue.verb == "layout" and cue.text != FOUND:
            layout = layout_of(cue)
            yield from ((cue.line, *warned) for warned in layout_warnings(layout, rig, sleeps))
            if encrypts and layout.encryption is None and all(part.filesystem != "luks" for part in layout.parts):
                yield cue.line, "encryption was chosen, and this layout has none", "crypt: what is encrypted"


def _same_moment(cues: list[Cue]) -> Iterator[Warned]:
    """Two screens at one time, and waits that end as they begin."""
    for cue, after in pairwise(cue for cue in cues if cue.verb in {"screen", "wait", "ready", "phase"}):
        if cue.at == after.at and cue.verb == after.verb == "screen":
            yield after.line, f"“{cue.text}” came up at the same time", "a later time for one of them"
        elif cue.at == after.at and cue.verb == "wait":
            yield cue.line, "this wait has no length", "a time before that of what ends it"


def _endless(cues: list[Cue], lexicon: Lexicon) -> Iterator[Warned]:
    """Stretches of hours in which nothing was noted and nobody is said to have waited or paused."""
    timeline = lay_out(cues, lexicon)
    for index, (cue, after) in enumerate(pairwise(cues), 1):
        silent = after.at - cue.at > _LONG_SILENCE
        # The machine may work for hours; only a person who says nothing is a sign that something was left out.
        if silent and any(stretch.who == "person" for stretch in timeline.between(index - 1, index)):
            pause = f"pause at {format_time(cue.at)} and resume at {format_time(after.at)}"
            days = round((after.at - cue.at) / _DAY)
            length = format_time(after.at - cue.at) if days < _AFTERWARDS else f"{days} days"
            expected = (
                pause if days < _AFTERWARDS else f"a time on the day of the installation, after {format_time(cue.at)}"
            )
            yield after.line, f"nothing was noted for {length} before this", expected


def _units(cues: list[Cue], lexicon: Lexicon) -> Iterator[Warned]:
    """Sizes whose unit leaves its family open, and figures of a reviewer's own that change their unit on the way."""
    units: dict[str, str] = {}
    for cue in cues:
        for text in _sizes(cue):
            if (loose := loose_unit(text)) is not None:
                unit, taken = loose
                message = f"“{unit}” does not say whether it counts in 1000s or in 1024s; {taken} was assumed"
                yield cue.line, message, f"{taken} or {taken.replace('iB', 'B')}"
        if cue.verb == "reading":
            unit = said_of(cue, lexicon).unit
            before = units.setdefault(cue.name or "", unit)
            if before != unit:
                yield (
                    cue.line,
                    f"“{cue.name}” was read in {_named(before)} before, now in {_named(unit)}",
                    _named(before),
                )


def _named(unit: str) -> str:
    return unit or "a bare number"


def _sizes(cue: Cue) -> list[str]:
    """The texts of a cue that may be sizes."""
    fields = VERBS[cue.verb].fields
    sized = [value for key, value in cue.fields if fields.get(key, Rule()).check in _SIZED]
    return [*sized, cue.text] if cue.verb == "reading" else sized
