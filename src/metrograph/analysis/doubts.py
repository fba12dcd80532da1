"""Looks for places in a log that can be read but are probably not what was meant, and says what a run still lacks."""

from __future__ import annotations

from itertools import pairwise

from metrograph.analysis.layouts import FOUND, layout_doubts, layout_of
from metrograph.analysis.timeline import lay_out, trouble
from metrograph.language.sizes import loose_unit, parse_size
from metrograph.language.spills import spills
from metrograph.language.suggest import suggest
from metrograph.language.times import format_time
from metrograph.language.values import parse_number
from metrograph.model.cards import Rig
from metrograph.model.cues import Cue, Fault, Log
from metrograph.model.lexicon import Lexicon
from metrograph.model.runs import Run
from metrograph.model.verbs import VERBS, Check, Rule


def doubts(log: Log, lexicon: Lexicon, rig: Rig | None = None) -> tuple[Fault, ...]:
    """Every doubtful place of a log, by line.

    rig: the card of its rig, to hold disk layouts against; None when there is none.
    """
    cues = log.by_time()
    found = [*_end(cues), *_unfixed(cues), *_fixes_of_nothing(cues), *_pauses(cues), *_homeless(cues, lexicon)]
    found += [
        *_layouts(cues, rig or Rig()),
        *_same_moment(cues),
        *_endless(cues, lexicon),
        *_spilled(cues),
        *_units(cues, lexicon),
    ]
    faults = (Fault(log.file, line, 1, "doubt", message, expected=expected) for line, message, expected in found)
    return tuple(sorted(faults, key=lambda fault: fault.line))


def lacks(run: Run) -> list[str]:
    """What a finished run would need to be compared with others, a sentence each."""
    missing = {
        "no screen was recorded": not run.screens,
        "the desktop was never reached: “phase desktop” marks it": run.milestones.desktop is None,
        "no disk layout was recorded": run.layout is None,
        "no reading was taken": not run.readings,
        "no trial was made": not run.checks,
    }
    open_issues = [f"the issue “{issue.summary}” was not fixed" for issue in run.issues if issue.fixed_at is None]
    return [sentence for sentence, is_so in missing.items() if is_so] + open_issues


_OWN_VALUES = frozenset({"keep", "choose", "enter", "fact"})  # told to be personal by their keys
Doubt = tuple[int, str, str]
_LONG = 2 * 3600 * 1000
"""Milliseconds without a cue, hands on, after which somebody has probably gone away."""


def _end(cues: list[Cue]) -> list[Doubt]:
    ends = [cue for cue in cues if cue.verb == "end"]
    if not ends:
        return [(cues[-1].line if cues else 1, "the run has no end", "end done, or end abandoned")]
    late = [cue for cue in cues if cue.at > ends[0].at]
    return [(cue.line, "this cue is later than the end of the run", "a time before the end") for cue in late]


def _unfixed(cues: list[Cue]) -> list[Doubt]:
    failed = {cue.field("issue") for cue in cues if cue.verb == "fail"}
    return [
        (cues[begin].line, "this issue was never fixed", f"fix {cues[begin].name}: how")
        for begin, end in trouble(cues)
        if end is None and cues[begin].name is not None and cues[begin].name not in failed
    ]


def _fixes_of_nothing(cues: list[Cue]) -> list[Doubt]:
    names = [cue.name for cue in cues if cue.verb == "issue" and cue.name is not None]
    return [
        (cue.line, f"there is no issue “{cue.name}” to fix", suggest(cue.name or "", names))
        for cue in cues
        if cue.verb == "fix" and cue.name not in names
    ]


def _pauses(cues: list[Cue]) -> list[Doubt]:
    found, paused = [], False
    for cue in cues:
        if cue.verb == "pause" and paused:
            found.append((cue.line, "the run was paused already", "resume before it"))
        elif cue.verb == "resume" and not paused:
            found.append((cue.line, "the run was not paused", "pause before it"))
        if cue.verb in {"pause", "resume"}:
            paused = cue.verb == "pause"
    return found


def _homeless(cues: list[Cue], lexicon: Lexicon) -> list[Doubt]:
    places = lay_out(cues, lexicon).places
    return [
        (cue.line, "this choice belongs to no screen", "a screen before it")
        for cue, place in zip(cues, places, strict=True)
        if cue.verb in {"keep", "choose", "enter"} and place.screen is None
    ]


def _layouts(cues: list[Cue], rig: Rig) -> list[Doubt]:
    answers = {(cue.name or "").casefold(): cue.text for cue in cues if cue.verb in {"keep", "choose"}}
    sleeps = any(answers.get(key) in {"yes", "on"} for key in ("hibernation", "sleep to disk"))
    encrypts = answers.get("encryption") not in {None, "no", "off", "none"}
    found = []
    for cue in cues:
        if cue.verb == "layout":
            layout = layout_of(cue)
            if cue.text == FOUND:
                continue
            found += [(cue.line, *doubt) for doubt in layout_doubts(layout, rig, sleeps)]
            if encrypts and layout.encryption is None and all(part.filesystem != "luks" for part in layout.parts):
                found.append((cue.line, "encryption was chosen, and this layout has none", "crypt: what is encrypted"))
    return found


def _same_moment(cues: list[Cue]) -> list[Doubt]:
    """Two screens at one time, and waits that end as they begin."""
    found = []
    for cue, after in pairwise(each for each in cues if each.verb in {"screen", "wait", "ready", "phase"}):
        if cue.at == after.at and cue.verb == after.verb == "screen":
            found.append((after.line, f"“{cue.text}” came up at the same time", "a later time for one of them"))
        elif cue.at == after.at and cue.verb == "wait":
            found.append((cue.line, "this wait has no length", "a time before that of what ends it"))
    return found


def _endless(cues: list[Cue], lexicon: Lexicon) -> list[Doubt]:
    """Stretches of hours in which nothing was noted and nobody is said to have waited or paused."""
    timeline = lay_out(cues, lexicon)
    found = []
    for index, (cue, after) in enumerate(pairwise(cues), 1):
        busy = any(each.who == "person" for each in timeline.between(index - 1, index))
        if busy and after.at - cue.at > _LONG:
            pause = f"pause at {format_time(cue.at)} and resume at {format_time(after.at)}"
            found.append((after.line, f"nothing was noted for {format_time(after.at - cue.at)} before this", pause))
    return found


def _spilled(cues: list[Cue]) -> list[Doubt]:
    """Secrets and personal values that slipped into free text."""
    found: list[Doubt] = []
    for cue in cues:
        for text in (cue.text, *(value for _, value in cue.fields)):
            for spill in spills(text):
                if spill.secret:
                    message = f"this looks like a {spill.what}, and secrets are never kept"
                    found.append((cue.line, message, f"the same without it: metrograph mend {cue.line} ..."))
                elif cue.verb not in _OWN_VALUES:
                    message = f"this holds a {spill.what}, which is masked where it is published"
                    found.append((cue.line, message, "words that do not tell who or where"))
    return found


def _units(cues: list[Cue], lexicon: Lexicon) -> list[Doubt]:
    """Sizes whose unit leaves its family open, and figures in another unit than theirs."""
    found: list[Doubt] = []
    for cue in cues:
        sizes = [value for key, value in cue.fields if VERBS[cue.verb].fields.get(key, Rule()).check in _SIZED]
        measure = lexicon.measures.get(cue.name or "") if cue.verb == "reading" else None
        if cue.verb == "reading" and (measure is None or measure.unit == "bytes"):
            sizes.append(cue.text)
        for text in sizes:
            if (loose := loose_unit(text)) is not None:
                unit, taken = loose
                message = f"“{unit}” does not say whether it counts in 1000s or in 1024s; {taken} was assumed"
                found.append((cue.line, message, f"{taken} or {taken.replace('iB', 'B')}"))
        if measure is not None and (wrong := _other_unit(cue.text, measure.unit)):
            found.append(
                (cue.line, f"“{cue.name}” is read in {_UNITS[measure.unit]}, not in {wrong}", _UNITS[measure.unit])
            )
    return found


def _other_unit(text: str, unit: str) -> str | None:
    """The unit of a figure where it is not the one that is wanted."""
    given = (parse_number(text) or (0.0, ""))[1]
    size = parse_size(text) is not None
    if unit == "bytes":
        return None if size else given or "a bare number"
    return given if given != unit else None


_SIZED = frozenset({Check.SIZE, Check.PART, Check.SWAP})
_UNITS = {"bytes": "bytes, MiB and the like", "s": "s", "%": "%", "": "a bare number"}
