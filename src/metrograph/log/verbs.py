"""The verbs of the run log, one row each: the shape of what follows them and the fields they take.

A row says all that any room asks of a verb, as traits; nobody else lists verbs. To add one, add a row here and what it
means in ``metrograph.run``; reader, writer, help, completion and plans follow by themselves.
"""

from __future__ import annotations

from enum import Enum, StrEnum
from functools import cache

import msgspec


class Shape(Enum):
    """How the body after a verb is built."""

    NOTHING = "nothing"
    TEXT = "text"
    MAYBE_TEXT = "text, which may be left out"
    SETTING = "key = value"
    MAYBE_SETTING = "key, or key = value"
    MAYBE_NAMED = "text, with a name and a colon before it or not"
    NAMED = "name: text"
    MAYBE_TOLD = "name, or name: text"
    TOLD = "name: text, the name being one of an issue"
    GROUPED = "items, with what they are and a colon before them or not"
    BESIDE = "the name of a release, as it stands, and perhaps a colon and text"


class Content(Enum):
    """A kind of text that a body or a field has to be, where not any will do."""

    ANY = "text"
    ONE_OF = "one of its words"
    NAME = "a name in small letters, digits and dashes, such as disk-hidden"
    KIND = "a kind of screen"
    SIZE = "a size, such as 25 GiB or 300 MB"
    DATA = "a size, about one, a range of sizes, or ? when nobody knows"
    PART = "a mount point, a file system and a size or rest, such as /boot/efi fat32 300 MiB"
    SWAP = "none, file or partition, with a size and hibernate or without, such as file 2 GiB"
    QUANTITY = "a number and a unit, such as 812 MiB, a range, about 600, or words"
    RATING = "awful, poor, fair, good, very good or excellent; or a share such as 7 of 10, 7, 4 stars, 80 %"
    COMPARED = "a thing and whether it is same, less, more, better or worse, such as memory less"
    BUT = "but, and things apart by commas"
    LENGTH = "how much is missing: 4:10, 8:00..12:00, about 5:00, or ? when nobody knows"
    CHANCE = "how sure it is, from 0 to 1, such as 0.93"
    DAY = "a day or a month, such as 2026-03-14 or 2026-03"
    SHA256 = "a SHA-256 checksum of 64 hexadecimal digits"


class Rule(msgspec.Struct, frozen=True):
    """The rule for one body or field.

    words: the words it may be, for ``Content.ONE_OF``, or else those that are usual; without: the one that is meant
        where none was said.
    alike: other words that people say, and which of them each means.
    many: whether the field may stand several times.
    """

    check: Content = Content.ANY
    words: tuple[str, ...] = ()
    many: bool = False
    without: str = ""
    alike: dict[str, str] = {}


class Trait(StrEnum):
    """A trait of a verb that a room may ask for."""

    ANSWER = "it answers a question of the installer"
    CHOICE = "its answer was picked, and may be given again as it was; what was typed may not"
    KEYED = "its text is the value of a key, which tells whether the value is personal"
    MEASURED = "its text was found out on the day: an earlier one is never taken over"
    RESULT = "how it came out is the person's to say: an earlier one is looked at before it is written"
    SUBJECT = "what it is about is its name, whatever came out"
    USUAL = "it comes again where it came on the same screen before"
    PLANNED = "it may leave the plan"
    TIMED = "it changes whose time it is, or where in the run it belongs"
    REASON = "its text says why, and is told beside the run"
    SEEN = "it is offered when it is seen on a screen while a person records"
    ASKED = "its name is looked for where an answer, or a tick, is given"


class Verb(msgspec.Struct, frozen=True):
    """A row of the table: one verb.

    example: a whole cue without its time, shown where a body is wrong.
    names: the verb whose names complete its own, where that is another: a fix is of an issue.
    """

    word: str
    shape: Shape
    example: str
    rule: Rule = Rule()
    fields: dict[str, Rule] = {}
    traits: frozenset[Trait] = frozenset()
    names: str = ""


_TEXT = Rule()
_COMMANDS = Rule(many=True)
_OF = {"of": _TEXT}
_WHERE = {"of": _TEXT, "only": _TEXT}
_RESULTS = {
    "pass": ("passes", "passed", "works", "worked", "ok", "okay", "yes", "fine"),
    "fail": ("fails", "failed", "no", "broken", "does not work"),
    "partly": ("partially", "in part", "half"),
    "skipped": ("skip", "not tried", "untried"),
}
_LOAD = Rule(words=("rest", "busy"))


def _words(*words: str) -> Rule:
    return Rule(Content.ONE_OF, words)


def _traits(*traits: Trait) -> frozenset[Trait]:
    return frozenset(traits)


_ROWS = (
    Verb("phase", Shape.TEXT, "phase copy", traits=_traits(Trait.PLANNED, Trait.TIMED, Trait.USUAL, Trait.SEEN)),
    Verb(
        "screen",
        Shape.TEXT,
        "screen Language",
        fields={"kind": Rule(Content.KIND), "text": _TEXT},
        traits=_traits(Trait.PLANNED, Trait.TIMED, Trait.SEEN),
    ),
    Verb(
        "keep",
        Shape.SETTING,
        "keep timezone = Europe/Lisbon",
        fields={"offered": _TEXT, "why": _TEXT},
        traits=_traits(Trait.ANSWER, Trait.CHOICE, Trait.KEYED, Trait.USUAL, Trait.PLANNED),
    ),
    Verb(
        "choose",
        Shape.SETTING,
        "choose swap = file | was none",
        fields={"was": _TEXT, "offered": _TEXT, "why": _TEXT},
        traits=_traits(Trait.ANSWER, Trait.CHOICE, Trait.KEYED, Trait.USUAL, Trait.PLANNED),
    ),
    Verb(
        "enter",
        Shape.MAYBE_SETTING,
        "enter host = reading-room",
        fields={"was": _TEXT, "why": _TEXT},
        traits=_traits(Trait.ANSWER, Trait.KEYED, Trait.SUBJECT, Trait.USUAL, Trait.PLANNED),
    ),
    Verb(
        "layout",
        Shape.TEXT,
        "layout whole disk | table gpt | part / ext4 24.7 GiB",
        fields={
            "table": _TEXT,
            "disk": Rule(Content.SIZE),
            "part": Rule(Content.PART, many=True),
            "swap": Rule(Content.SWAP),
            "crypt": _TEXT,
            "loader": _TEXT,
        },
        traits=_traits(Trait.RESULT, Trait.USUAL),
    ),
    Verb(
        "wait",
        Shape.MAYBE_TEXT,
        "wait copying files",
        traits=_traits(Trait.TIMED, Trait.USUAL, Trait.REASON, Trait.SEEN),
    ),
    Verb("ready", Shape.NOTHING, "ready", traits=_traits(Trait.TIMED, Trait.USUAL)),
    Verb("close", Shape.NOTHING, "close", traits=_traits(Trait.TIMED)),
    Verb("task", Shape.MAYBE_TOLD, "task update: 400 packages behind the tour", traits=_traits(Trait.TIMED)),
    Verb("done", Shape.MAYBE_TOLD, "done update", fields={"how": _TEXT}, traits=_traits(Trait.TIMED), names="task"),
    Verb(
        "issue",
        Shape.MAYBE_NAMED,
        "issue disk-hidden: The disk screen lists no disk",
        fields={
            "severity": _words("blocker", "major", "minor", "cosmetic"),
            "area": _TEXT,
            "detail": _TEXT,
            "link": _TEXT,
            **_WHERE,
        },
    ),
    Verb("tried", Shape.TOLD, "tried disk-hidden: another cable", fields={"command": _COMMANDS}, names="issue"),
    Verb(
        "fix",
        Shape.MAYBE_TOLD,
        "fix disk-hidden: storage controller set to its plain mode",
        fields={"command": _COMMANDS},
        names="issue",
    ),
    Verb(
        "fail",
        Shape.TEXT,
        "fail no disk to install on",
        fields={"issue": Rule(Content.NAME)},
        traits=_traits(Trait.TIMED),
    ),
    Verb("retry", Shape.MAYBE_TEXT, "retry from power-on", fields={"changed": _TEXT}, traits=_traits(Trait.TIMED)),
    Verb(
        "reading",
        Shape.SETTING,
        "reading memory = 812 MiB",
        Rule(Content.QUANTITY),
        fields={"load": _LOAD, "against": _TEXT, "state": _TEXT, "how": _TEXT, **_WHERE},
        traits=_traits(Trait.MEASURED, Trait.SUBJECT, Trait.USUAL),
    ),
    Verb(
        "fact",
        Shape.SETTING,
        "fact kernel = 7.2.4",
        fields=_WHERE,
        traits=_traits(Trait.KEYED, Trait.MEASURED, Trait.SUBJECT, Trait.USUAL),
    ),
    Verb(
        "check",
        Shape.NAMED,
        "check printer: pass",
        Rule(
            Content.ONE_OF,
            tuple(_RESULTS),
            alike={word: result for result, words in _RESULTS.items() for word in words},
        ),
        fields={"with": _TEXT, "detail": _TEXT, **_WHERE},
        traits=_traits(Trait.RESULT, Trait.SUBJECT, Trait.USUAL, Trait.PLANNED),
    ),
    Verb("rate", Shape.SETTING, "rate looks = 7 of 10", Rule(Content.RATING), fields={"why": _TEXT, **_OF}),
    Verb("praise", Shape.TEXT, "praise the first-run tour", fields={"why": _TEXT, **_OF}),
    Verb("dislike", Shape.TEXT, "dislike grey on grey", fields={"why": _TEXT, **_OF}),
    Verb(
        "than",
        Shape.BESIDE,
        "than larkmoor-7.0-heron: memory less",
        Rule(Content.COMPARED),
        fields={"why": _TEXT, **_OF},
        traits=_traits(Trait.MEASURED),
    ),
    Verb(
        "same",
        Shape.BESIDE,
        "same larkmoor-8.0-heron: but wallpaper, browser",
        Rule(Content.BUT),
        traits=_traits(Trait.MEASURED),
    ),
    Verb("ask", Shape.TOLD, "ask suspend: Does it wake up again?", traits=_traits(Trait.ASKED)),
    Verb("answer", Shape.TOLD, "answer suspend: Yes, in two seconds", traits=_traits(Trait.MEASURED), names="ask"),
    Verb("tweak", Shape.TEXT, "tweak pointer speed halved", fields={"why": _TEXT, "command": _COMMANDS}),
    Verb(
        "add",
        Shape.TEXT,
        "add video codecs | download 48 MiB",
        fields={
            "download": Rule(Content.DATA),
            "disk": Rule(Content.DATA),
            "frees": Rule(Content.DATA),
            "groups": _TEXT,
            "from": _TEXT,
            "why": _TEXT,
            "instead": _TEXT,
            **_WHERE,
        },
    ),
    Verb(
        "carries",
        Shape.GROUPED,
        "carries office: Writer 7.4, Sheet 7.4",
        fields={"from": _TEXT, "why": _TEXT, "instead": _TEXT, **_WHERE},
    ),
    Verb("lacks", Shape.GROUPED, "lacks office: a drawing program", fields={"why": _TEXT, **_WHERE}),
    Verb("shot", Shape.TEXT, "shot shots/disk.png", fields={"sha256": Rule(Content.SHA256)}),
    Verb("note", Shape.TEXT, "note The slides advertise an office suite"),
    Verb(
        "todo",
        Shape.MAYBE_NAMED,
        "todo cable: Try the printer with another cable",
        fields={"for": _TEXT},
        traits=_traits(Trait.ASKED),
    ),
    Verb("pause", Shape.MAYBE_TEXT, "pause lunch", traits=_traits(Trait.TIMED, Trait.REASON)),
    Verb("resume", Shape.MAYBE_TEXT, "resume", traits=_traits(Trait.TIMED, Trait.REASON)),
    Verb("cut", Shape.TEXT, "cut 8:00..12:00", Rule(Content.LENGTH), traits=_traits(Trait.TIMED)),
    Verb(
        "verdict",
        Shape.TEXT,
        "verdict Ready to be handed out",
        fields={"for": _TEXT, "against": _TEXT, "score": _TEXT, "whom": Rule(many=True)},
    ),
    Verb(
        "end",
        Shape.MAYBE_TEXT,
        "end done",
        Rule(Content.ONE_OF, ("done", "abandoned"), without="done"),
        traits=_traits(Trait.TIMED, Trait.RESULT, Trait.USUAL),
    ),
)

NOTED = "noted"
"""The field of a cue that came from a file of notes, which says from which line of it and what that said."""

DAY = "day"
"""The field of a cue of which only the day or the month is known; in the file that stands in the place of its time."""

COMMON: dict[str, Rule] = {
    "sure": Rule(Content.CHANCE),
    "seen": _TEXT,
    "heard": Rule(without="hearsay"),
    "tell": _words("no", "yes", "first"),
    NOTED: _TEXT,
    DAY: Rule(Content.DAY),
}
"""Fields that any cue may have.

How sure a proposal is, the picture that it rests on, that it is hearsay and from whom, whether it is told to others,
from which line of notes it came, and when it was, where only that is known.
"""

VERBS: dict[str, Verb] = {row.word: row for row in _ROWS}


def fields_of(verb: Verb) -> dict[str, Rule]:
    """All fields that a verb may have. What the time of a run is made of cannot be kept from those who are told it."""
    common = {key: rule for key, rule in COMMON.items() if key != "tell" or Trait.TIMED not in verb.traits}
    return common | verb.fields


@cache
def verbs_with(trait: Trait) -> frozenset[str]:
    """The verbs of a trait."""
    return frozenset(row.word for row in _ROWS if trait in row.traits)


PHASES = ("boot", "live", "questions", "copy", "restart", "setup", "tour", "desktop", "update")
"""The phases of an installation in the order in which they come; a log may use names of its own besides."""
