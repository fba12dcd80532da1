"""The recorder without its screen: the run as it stands, and cues on their way to the disk."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import TYPE_CHECKING

import msgspec

from metrograph.core.errors import UNDECODABLE, MetrographError, NotWritableError
from metrograph.log.cues import Cue, Fault, Log
from metrograph.log.faults import Unreadable
from metrograph.log.quantities.times import LEADING_TIME
from metrograph.log.reader import parse_line, read_log
from metrograph.log.verbs import VERBS
from metrograph.log.writer import format_line
from metrograph.plan.completion import Completion, Vocabulary, complete, vocabulary_of
from metrograph.plan.plan import Plan, Step, cues_of, load_plan, matches, steps_ahead, still_to_do
from metrograph.plan.prediction import Offer, predict, subject_of
from metrograph.plan.status import Status
from metrograph.plan.status import status as status_of
from metrograph.privacy.gate import SecretError, check
from metrograph.privacy.secret_places import secrets_in
from metrograph.privacy.secrets import is_hinted
from metrograph.run.folding.fold import fold
from metrograph.run.records import Run
from metrograph.store.clock import Instant, When, cue_time, elapsed
from metrograph.store.local.logbook import Logbook
from metrograph.store.reading import LogReader
from metrograph.words.runs import lacking

if TYPE_CHECKING:
    from metrograph.services.live.beside import OthersAsked, Watcher
    from metrograph.services.live.growing_talk import TalkListener

_EARLIER = 20
"""How many other logs, the latest, are read for what was said in them."""


class Typed(msgspec.Struct, frozen=True):
    """A line that is being typed, as it would be written.

    cue: None while it cannot be read.
    at: what it says about its time; None for now.
    wrong, expected: why it cannot be read and what could stand there; empty when it can.
    instead: the line with its secret left out, when it has one.
    """

    cue: Cue | None
    at: str | None = None
    wrong: str = ""
    expected: str = ""
    instead: str | None = None


class Session:
    """One run that is being recorded.

    clock: gives this moment.
    """

    def __init__(self, book: Logbook, run: str, clock: Callable[[], Instant]) -> None:
        self.book, self.name, self.clock = book, run, clock
        self.reader = LogReader(book)
        self.watcher: Watcher | None = None  # what looks at the screen meanwhile
        self.listener: TalkListener | None = None  # what listens to what is said
        self.others: OthersAsked | None = None  # what others take on each screen
        self.unwritten: list[Cue] = []  # in the order they were given; kept until the disk takes them
        self.skipped: set[tuple[str, str | None]] = set()  # what was offered and is not wanted
        self.trouble = ""  # why the last writing failed; empty when it did not
        self._seen: object = None
        self.faults: tuple[Fault, ...] = ()  # what in the log cannot be read
        book.check_writable(run)  # or says why not
        self.log = self.reader.log(run)
        self.plan: Plan | None = load_plan(self.reader, book, self.log.header.other("like"), run, self.log.header.rig)
        self.earlier = self._earlier()
        self.refresh()

    # -- how it stands -------------------------------------------------------------------------------------------------

    def refresh(self) -> bool:
        """Reads the log again when it has changed, whoever changed it; whether it had."""
        try:
            seen = self.book.stamp(self.name)
            if seen == self._seen:
                return False
            self.reader.faults.clear()
            self.log, self._seen = self.reader.log(self.name), seen
            self.faults = tuple(fault for fault in self.reader.faults if fault.level == "error")
        except (OSError, MetrographError):
            return False  # what was read last is still the best there is; writing will say what is wrong
        self._settle()
        return True

    def now(self) -> int:
        """Milliseconds since the run began."""
        return max(elapsed(self.log.header, self.clock()) or 0, 0)

    def run_until(self, now: int) -> Run:
        """The run up to a moment, in milliseconds since it began."""
        return fold(self.whole, self.name, self.reader.lexicon, until=now)

    def status(self, now: int | None = None) -> Status:
        """The run as it stands at a moment, this one unless said; without the plan, which only a new cue moves on."""
        now = self.now() if now is None else now
        last = max((cue.at for cue in self.whole.cues), default=0)
        return status_of(self.run_until(now), last, now)

    def offer(self) -> Offer | None:
        """The most likely next thing: what was seen on the screen or said, or what the plan and the log suggest."""
        if self.watcher is not None and not self.run.ended:
            seen = self.watcher.offer(self.whole, self.settled.screen)
            if seen is not None:
                return seen
        if self.listener is not None and not self.run.ended:
            heard = self.listener.offer(self)
            if heard is not None:
                return heard
        return predict(self.whole, self.run, self.plan, self.reader.lexicon, self.now(), frozenset(self.skipped))

    def skip(self, offer: Offer) -> bool:
        """Does not offer this again while the screen in front is there; whether anything else may be offered."""
        about = offer.about or (subject_of(offer.cue) if offer.cue is not None and offer.away is None else None)
        if about is None or about in self.skipped:
            return False
        self.skipped.add(about)
        return True

    @property
    def step(self) -> Step | None:
        """The plan's next screen."""
        return self.ahead[0] if self.ahead else None

    def lacks(self) -> list[str]:
        """What the record would still need to be compared, in sentences."""
        return lacking(self.run, still_to_do(self.run, self.reader.settings.checklist, self.plan))

    # -- what is typed -------------------------------------------------------------------------------------------------

    def read(self, line: str) -> Typed:
        """What a line would say, or why it cannot be read."""
        time = LEADING_TIME.match(line)
        at, words = (time[0].strip(), line[time.end() :]) if time else (None, line)
        try:
            cue = parse_line(words, lambda: self.reader.lexicon)
            check(cue)
            return Typed(msgspec.structs.replace(cue, at=cue_time(self.log, self.clock(), at)), at)
        except SecretError as secret:
            return Typed(
                None, at, secret.message, secret.expected, f"{time[0] if time else ''}{format_line(secret.instead)}"
            )
        except Unreadable as wrong:
            return Typed(None, at, wrong.message, wrong.expected)
        except MetrographError as wrong:
            return Typed(None, at, str(wrong))

    def template(self, line: str) -> str:
        """How a line could go on that cannot be read yet, as a word is still missing; empty where one is wrong."""
        words = LEADING_TIME.sub("", line).lstrip()
        verb, blank, _ = words.partition(" ")
        if verb in VERBS:
            return f"such as  {VERBS[verb].example}"
        begun = [each for each in VERBS if each.startswith(verb)] if not blank else []
        return f"{', '.join(begun[:8])} …" if begun else ""

    def completions(self, line: str) -> tuple[Completion, ...]:
        """The ways to go on after what was typed."""
        return complete(line, self.vocabulary, self._likely()) if line.strip() else ()

    def kept_lines(self) -> list[str]:
        """What was typed when the recorder was last left, and not written."""
        try:
            return msgspec.json.decode(self.book.kept(self._lines) or b"[]", type=list[str])
        except UNDECODABLE:
            return []

    def keep_lines(self, texts: Sequence[str]) -> tuple[list[str], bool]:
        """Keeps what is typed and not written; which, and whether any was not kept, as it may hold a secret."""
        kept = [text for text in texts if not is_hinted(text) and not secrets_in(text)]
        if kept or self.book.kept(self._lines) is not None:
            self.book.keep(self._lines, msgspec.json.encode(kept))
        return kept, len(kept) < len(texts)

    @property
    def _lines(self) -> str:
        return f"lines-{self.name}.json"

    # -- what is written -----------------------------------------------------------------------------------------------

    def write(self, cues: Sequence[Cue]) -> bool:
        """Writes cues, after those that are still waiting; whether all are on the disk.

        When the disk refuses they are kept, and ``trouble`` says why.

        Raises MetrographError when the log itself refuses them; they are not kept then.
        """
        waiting = [*self.unwritten, *cues]
        try:
            self.book.append(self.name, waiting, When(self.clock(), given=True))
        except NotWritableError as error:
            reason = error.__cause__
            self.unwritten = waiting
            self.trouble = reason.strerror or str(error) if isinstance(reason, OSError) else str(error)
        else:
            self.unwritten, self.trouble = [], ""
        if not self.refresh():
            self._settle()
        return not self.unwritten

    def accept(self, offer: Offer) -> list[Cue]:
        """Writes what was offered; returns the cues."""
        now = self.now() if offer.at is None else offer.at
        cues = [] if offer.cue is None else [msgspec.structs.replace(offer.cue, at=now)]
        if offer.away is not None:
            cues = [Cue(offer.away, "pause", None, ""), *cues]
        self.write(cues)
        return cues

    def write_next(self) -> list[Cue]:
        """Writes the plan's next screen, with the choices of last time; returns the cues, none at the plan's end."""
        now = self.now()
        cues = [msgspec.structs.replace(cue, at=now) for cue in cues_of(self.step, same=True)] if self.step else []
        if cues:
            self.write(cues)
        return cues

    def take_back(self) -> str:
        """Takes the last cue back; returns it as it would be typed.

        Raises MetrographError when there is none, or the log cannot be written.
        """
        # Another window may have written since: what is named is what was taken, not what was last seen here.
        cue = self.unwritten.pop() if self.unwritten else _cue_of(self.book.take_back(self.name, None))
        if not self.refresh():
            self._settle()
        return format_line(cue)

    # -- inside --------------------------------------------------------------------------------------------------------

    def _settle(self) -> None:
        """Works out all that only a new cue changes."""
        self.whole: Log = msgspec.structs.replace(self.log, cues=(*self.log.cues, *self.unwritten))
        self.run: Run = fold(self.whole, self.name, self.reader.lexicon)
        self.ahead: tuple[Step, ...] = steps_ahead(self.plan, self.run) if self.plan else ()
        self.settled: Status = status_of(self.run, plan=self.plan)
        self.front: Step | None = self._step_in_front()
        self.vocabulary: Vocabulary = vocabulary_of([self.whole, *self.earlier], self.reader.lexicon)

    def _earlier(self) -> list[Log]:
        """The logs of the plan, then the latest others."""
        planned = [run.run for run in self.plan.side.runs] if self.plan else []
        stamps = self.book.stamps()
        latest = sorted(stamps, key=lambda run: stamps[run], reverse=True)[:_EARLIER]
        return [self.reader.log(name) for name in dict.fromkeys([*planned, *latest]) if name != self.name]

    def _step_in_front(self) -> Step | None:
        """What the plan has for the screen in front."""
        if self.plan is None or self.settled.screen is None:
            return None
        pairs = zip(self.plan.steps, matches(self.plan, self.run), strict=True)
        return next(
            (step for step, screen in pairs if screen is not None and screen.title == self.settled.screen), None
        )

    def _likely(self) -> list[str]:
        """Titles that are still to come, and keys of what was asked last time on the screen in front."""
        asked = [choice.key for choice in self.front.screen.choices] if self.front else []
        return [step.screen.title for step in self.ahead] + asked


def _cue_of(block: str) -> Cue:
    """The cue that stood in a log, from its lines."""
    log, _ = read_log(f"metrograph 1\n\n{block}\n")
    return log.cues[0] if log.cues else Cue(0, "note", None, block)
