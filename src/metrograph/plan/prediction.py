"""Says what a person who records a run will most likely note next, so that one key is enough for it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Literal

import msgspec

from metrograph.log.cues import Cue, Log
from metrograph.log.escapes import encode
from metrograph.log.lexicon import Lexicon
from metrograph.log.verbs import VERBS, Trait
from metrograph.log.writer import format_line, format_words
from metrograph.plan.plan import Plan, Step, followers_of, matches, screen_cue, steps_ahead
from metrograph.plan.status import AWAY
from metrograph.run.records import Position, Run


class Offer(msgspec.Struct, frozen=True):
    """An offer: either a cue to be written at once, or a line to be looked at first.

    cue: to be written now; None when there is a line.
    away: milliseconds since ``begun`` from which to now a pause is missing; the cue is then its ``resume``.
    at, sure: of what was seen on the screen or said, when that was, in milliseconds, and how sure it is; None of
        others. sense: which of the two.
    line, cursor: words to complete or confirm, and where among them the cursor belongs.
    about: what it is about, by which it can be skipped; None where its cue says it.
    """

    cue: Cue | None = None
    away: int | None = None
    line: str = ""
    cursor: int = 0
    about: tuple[str, str | None] | None = None
    at: int | None = None
    sure: float | None = None
    sense: Literal["seen", "said"] = "seen"

    @property
    def words(self) -> tuple[str, int]:
        """What Tab puts on an empty line, to be changed before it is written, and where the cursor belongs."""
        if self.cue is None:
            return self.line, self.cursor
        return format_line(self.cue), len(format_words(self.cue))


Skipped = frozenset[tuple[str, str | None]]
"""What a person does not want to be offered, by what it is about; see ``subject_of``."""


def predict(
    log: Log, run: Run, plan: Plan | None, lexicon: Lexicon, now: int, skipped: Skipped = frozenset()
) -> Offer | None:
    """The most likely next thing; None when there is no telling.

    run: what the log was folded to.
    now: milliseconds since ``begun``.
    skipped: what is not offered again.
    """
    if run.ended:
        return None
    last = log.by_time()[-1] if log.cues else None
    if run.position.who == "paused":
        return Offer(Cue(0, "resume", None, ""))
    # Hours of hands-on work without a word are no work: somebody went away and forgot to say so.
    if last is not None and run.position.who == "person" and now - last.at >= AWAY * 1000:
        return Offer(Cue(0, "resume", None, ""), away=last.at)
    if last is not None and last.verb == "fail":
        return Offer(Cue(0, "retry", None, "from power-on"))
    planned = _planned(log, run, plan, lexicon, skipped) if plan is not None else None
    return planned or (Offer(Cue(0, "ready", None, "")) if run.position.who == "machine" else None)


def _planned(log: Log, run: Run, plan: Plan, lexicon: Lexicon, skipped: Skipped) -> Offer | None:
    """What the plan has at the screen in front and is not noted yet; then its next screen."""
    front = max(
        (index for index, screen in enumerate(run.screens) if screen.attempt == run.position.attempt), default=None
    )
    # Between two screens the one that was left last still counts as in front.
    front = front if run.position.screen is None else run.position.screen
    if front is not None:
        step = _step_of(plan, run, front)
        left = left_over(step.cues if step else (), followers_of(log, lexicon)[front])
        sensible = [cue for cue in left if _makes_sense(cue, run.position) and subject_of(cue) not in skipped]
        if sensible:
            return _offer(sensible[0])
    ahead = [screen_cue(step.screen) for step in steps_ahead(plan, run)]
    return next((Offer(cue) for cue in ahead if ("screen", cue.text) not in skipped), None)


def left_over(planned: Sequence[Cue], done: Sequence[Cue]) -> list[Cue]:
    """The planned cues that are still to come when some were done.

    Those after the last that was done come first; of those before it only answers are still wanted, since the moment
    for anything else has gone by.
    """
    waiting, reached = list(enumerate(planned)), 0
    for cue in done:
        # By what it is about, not by what came out: another answer to the same question is still its answer.
        partner = next((item for item in waiting if subject_of(item[1]) == subject_of(cue)), None)
        if partner is not None:
            waiting.remove(partner)
            reached = max(reached, partner[0])
    after = [cue for index, cue in waiting if index >= reached]
    return after + [cue for index, cue in waiting if index < reached and Trait.ANSWER in VERBS[cue.verb].traits]


def _step_of(plan: Plan, run: Run, front: int) -> Step | None:
    screen = run.screens[front]
    partners = matches(plan, run)
    return next((step for step, partner in zip(plan.steps, partners, strict=True) if partner is screen), None)


def subject_of(cue: Cue) -> tuple[str, str | None]:
    """What a cue is about, whatever came out."""
    traits = VERBS[cue.verb].traits
    if Trait.CHOICE in traits:
        return "answer", cue.name
    told = cue.verb in {"phase", "screen"}
    return cue.verb, cue.name if Trait.SUBJECT in traits else cue.text if told else None


def _makes_sense(cue: Cue, stand: Position) -> bool:
    """Whether a planned cue would still say something where the run stands."""
    if cue.verb == "phase":
        return cue.text != stand.phase
    # A wait can only begin while the person works, and only end while the machine does.
    return (cue.verb == "ready") == (stand.who == "machine") if cue.verb in {"wait", "ready"} else True


def _offer(cue: Cue) -> Offer:
    """The offer of a planned cue.

    Measured values are never repeated unseen, and what came out is the person's to say.
    """
    offer = _of(cue)
    return msgspec.structs.replace(offer, about=subject_of(cue))


def _of(cue: Cue) -> Offer:
    traits = VERBS[cue.verb].traits
    if Trait.MEASURED in traits:
        head = f"{cue.verb} {encode(cue.name or '')} = "
        # The unit of last time stays on the line, the number does not.
        unit = re.sub(r"^[0-9.,+-]*", "", cue.text) if cue.verb == "reading" else ""
        load = cue.field("load")
        return Offer(line=f"{head}{encode(unit)}{f' | load {load}' if load else ''}", cursor=len(head))
    if Trait.RESULT in traits:  # what is to be done, and never how it came out before: two keys would write that
        line = f"{cue.verb} {encode(cue.name)}: " if cue.name is not None else f"{cue.verb} "
        return Offer(line=line, cursor=len(line))
    return Offer(cue)
