"""Says what was seen in a recording: an answer in a sentence or two, and what each line is."""

from __future__ import annotations

from metrograph.log.quantities.times import show_moment
from metrograph.present.wording.figures import counted
from metrograph.sources.watch.proposing.seen import SURE, Seen, SeenSpan


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
    """What stood there."""
    if span.title:
        return span.title
    return "(the machine works)" if span.waiting else "(a screen, title unknown)"


def seen_marks(span: SeenSpan) -> str:
    """What is special about it."""
    words = {
        "dialog": span.dialog,
        "waits": span.waiting and bool(span.title),
        "again": span.returns,
        "trouble": span.error,
    }
    return ", ".join(word for word, holds in words.items() if holds)
