"""Says what a run has and lacks, where its disk is not as the installer said, and what was seen in a recording."""

from __future__ import annotations

from collections.abc import Iterator

from metrograph.log.quantities.times import show_moment
from metrograph.plan.plan import StillToDo
from metrograph.run.disks import LayoutDifference, Mismatch
from metrograph.run.records import Choice, Run
from metrograph.run.warnings import Lack, Lacking, lacks
from metrograph.watch.drafts.seen import SURE, Seen, SeenSpan
from metrograph.words.figure_words import counted
from metrograph.words.noted_words import joined

NOW = {"person": "hands-on", "machine": "waiting", "paused": "paused, off the clock"}
"""Whose time it is at the moment."""

_LACKS = {
    Lack.SCREENS: "no screen was recorded",
    Lack.DESKTOP: "the desktop was never reached: “phase desktop” marks it",
    Lack.LAYOUT: "no disk layout was recorded",
    Lack.READINGS: "no reading was taken",
    Lack.CHECKS: "no trial was made",
    Lack.FIX: "the issue “{issue}” was not fixed",
}
_MISMATCHES = {
    Mismatch.PART_MISSING: "{subject} was to be a partition of its own, and none is there.",
    Mismatch.PART_UNEXPECTED: "{subject} is there, and was not spoken of.",
    Mismatch.FILE_SYSTEM: "{subject} holds {there}; {said} was said.",
    Mismatch.PART_SIZE: "{subject} has {there}; {said} was said.",
    Mismatch.SWAP_MISSING: "Swap is missing.",
    Mismatch.SWAP_KIND: "Swap is a {there}; {said} was said.",
    Mismatch.SWAP_SIZE: "Swap has {there}; {said} was said.",
    Mismatch.ENCRYPTED: "It is encrypted, and that was not spoken of.",
    Mismatch.NOT_ENCRYPTED: "It was to be encrypted, and is not.",
    Mismatch.TABLE: "The partition table is {there}; {said} was said.",
}


def lacking(run: Run, left: StillToDo) -> list[str]:
    """What a record would still need to be compared: what it lacks itself, and what is wanted of every run."""
    return [*map(lack, lacks(run)), *wanting(left)]


def wanting(left: StillToDo) -> Iterator[str]:
    """The wants of the checklist and the plan that are still open, a text for each kind."""
    yield from (f"the trial “{trial}” was not made" for trial in left.to_try)
    yield from (f"“{reading}” was not read" for reading in left.to_read)
    yield from (f"the usual tweak “{tweak}” was not made" for tweak in left.to_tweak)
    yield from (f"the usual addition “{software}” was not made" for software in left.to_add)


def todo(text: str, reader: str | None) -> str:
    """Something left to do, and for whom."""
    return f"{text} (for {reader})" if reader else text


def lack(lacking: Lacking) -> str:
    """One thing without which a run cannot be compared, in words."""
    return _LACKS[lacking.what].format(issue=lacking.issue)


def layout_difference(difference: LayoutDifference) -> str:
    """Where the disk is not as the installer said."""
    return _MISMATCHES[difference.what].format(subject=difference.subject, said=difference.said, there=difference.there)


def choice_in_full(answer: Choice) -> str:
    """An answer with what else could have been answered, and why it was."""
    offered = f"of {', '.join(answer.offered)}" if answer.offered else None
    more = joined(offered, answer.why)
    return choice(answer) + (f" ({more})" if more else "")


def choice(answer: Choice) -> str:
    """An answer: ``swap: none → file`` when it was changed, ``swap: file (kept)`` when it was left as it stood."""
    if answer.how == "typed":
        before = f"{answer.preset} → " if answer.preset else ""
        return f"{answer.key} typed" if answer.value is None else f"{answer.key}: {before}{answer.value} (typed)"
    if answer.how == "kept":
        return f"{answer.key}: {answer.value} (kept)"
    return f"{answer.key}: {answer.preset or '?'} → {answer.value}"


def seen_answer(seen: Seen) -> str:
    """How much there is, how long the machine was at work, and what a person has to look at."""
    screens = [span for span in seen.spans if not (span.waiting and not span.title)]
    if not screens:
        return f"No screen was found in {show_moment(seen.seconds)} of it."
    waits = f"the machine was at work for {show_moment(seen.waiting)} of {show_moment(seen.seconds)}"
    sentences = [f"{counted(len(screens), 'screen')}; {waits}."]
    trouble = [span for span in screens if span.error]
    if trouble:
        sentences.append(f"{counted(len(trouble), 'screen')} told of trouble, first “{trouble[0].trouble}”.")
    unsure = [span for span in screens if span.sure < SURE]
    if unsure:
        sentences.append(
            f"{counted(len(unsure), 'title')} {'is' if len(unsure) == 1 else 'are'} unsure, the first at"
            f" {show_moment(unsure[0].start)}."
        )
    return " ".join(sentences)


def seen_title(span: SeenSpan) -> str:
    """The title of what was seen."""
    if span.title:
        return span.name or span.title
    return "(the machine works)" if span.waiting else "(a screen, title unknown)"


def seen_marks(span: SeenSpan) -> str:
    """The remarks beside a screen that was seen: come back to, waits, trouble, dialog."""
    words = {
        "dialog": span.dialog,
        "waits": span.waiting and bool(span.title),
        "again": span.returns,
        "trouble": span.error,
    }
    return ", ".join(word for word, holds in words.items() if holds)
