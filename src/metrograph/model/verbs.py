"""The verbs of the run log, one row each: the shape of what follows them and the fields they take.

To add a verb, add a row here and a handler in ``metrograph.analysis.fold``; reader and writer follow by themselves.
"""

from __future__ import annotations

from enum import Enum

import msgspec


class Shape(Enum):
    """How the body behind a verb is built."""

    NOTHING = "nothing"
    TEXT = "text"
    MAYBE_TEXT = "text, which may be left out"
    SETTING = "key = value"
    MAYBE_SETTING = "key, or key = value"
    MAYBE_NAMED = "text, with a name and a colon before it or not"
    NAMED = "name: text"
    MAYBE_TOLD = "name, or name: text"


class Check(Enum):
    """What the text of a body or a field has to be, where not any text will do."""

    ANY = "text"
    ONE_OF = "one of its words"
    NAME = "a name in small letters, digits and dashes, such as disk-hidden"
    KIND = "a kind of screen"
    SIZE = "a size, such as 25 GiB or 300 MB"
    PART = "a mount point, a file system and a size, such as /boot/efi fat32 300 MiB"
    SWAP = "none, file or partition with a size, such as file 2 GiB"
    NUMBER = "a number and a unit, such as 812 MiB"
    CUT = "how much is missing: 4:10, 8:00..12:00, or ? when nobody knows"
    SHA256 = "a SHA-256 checksum of 64 hexadecimal digits"


class Rule(msgspec.Struct, frozen=True):
    """What one body text or field may hold.

    words: the words it may be, for ``Check.ONE_OF``.
    many: whether the field may stand several times.
    """

    check: Check = Check.ANY
    words: tuple[str, ...] = ()
    many: bool = False


class Verb(msgspec.Struct, frozen=True):
    """A row of the table: one verb.

    example: a whole cue without its time, shown where a body is wrong.
    """

    word: str
    shape: Shape
    example: str
    rule: Rule = Rule()
    fields: dict[str, Rule] = {}


_TEXT = Rule()
_COMMANDS = Rule(many=True)


def _words(*words: str) -> Rule:
    return Rule(Check.ONE_OF, words)


_ROWS = (
    Verb("phase", Shape.TEXT, "phase copy"),
    Verb("screen", Shape.TEXT, "screen Language", fields={"kind": Rule(Check.KIND), "text": _TEXT}),
    Verb("keep", Shape.SETTING, "keep timezone = Europe/Lisbon", fields={"offered": _TEXT}),
    Verb(
        "choose",
        Shape.SETTING,
        "choose swap = file | was none",
        fields={"was": _TEXT, "offered": _TEXT, "why": _TEXT},
    ),
    Verb("enter", Shape.MAYBE_SETTING, "enter host = reading-room"),
    Verb(
        "layout",
        Shape.TEXT,
        "layout whole disk | table gpt | part / ext4 24.7 GiB",
        fields={
            "table": _TEXT,
            "disk": Rule(Check.SIZE),
            "part": Rule(Check.PART, many=True),
            "swap": Rule(Check.SWAP),
            "crypt": _TEXT,
            "loader": _TEXT,
        },
    ),
    Verb("wait", Shape.MAYBE_TEXT, "wait copying files"),
    Verb("ready", Shape.NOTHING, "ready"),
    Verb(
        "issue",
        Shape.MAYBE_NAMED,
        "issue disk-hidden: The disk screen lists no disk",
        fields={
            "severity": _words("blocker", "major", "minor", "cosmetic"),
            "area": _TEXT,
            "detail": _TEXT,
            "link": _TEXT,
        },
    ),
    Verb(
        "fix",
        Shape.MAYBE_TOLD,
        "fix disk-hidden: storage controller set to its plain mode",
        fields={"command": _COMMANDS},
    ),
    Verb("fail", Shape.TEXT, "fail no disk to install on", fields={"issue": Rule(Check.NAME)}),
    Verb("retry", Shape.MAYBE_TEXT, "retry from power-on", fields={"changed": _TEXT}),
    Verb(
        "reading",
        Shape.SETTING,
        "reading memory = 812 MiB",
        Rule(Check.NUMBER),
        fields={"load": _words("rest", "busy"), "how": _TEXT},
    ),
    Verb("fact", Shape.SETTING, "fact kernel = 7.2.4"),
    Verb(
        "check",
        Shape.NAMED,
        "check printer: pass",
        _words("pass", "fail", "partly", "skipped"),
        fields={"detail": _TEXT},
    ),
    Verb("tweak", Shape.TEXT, "tweak pointer speed halved", fields={"why": _TEXT, "command": _COMMANDS}),
    Verb(
        "add",
        Shape.TEXT,
        "add video codecs | download 48 MiB",
        fields={"download": Rule(Check.SIZE), "disk": Rule(Check.SIZE), "from": _TEXT, "why": _TEXT},
    ),
    Verb("shot", Shape.TEXT, "shot shots/disk.png", fields={"sha256": Rule(Check.SHA256)}),
    Verb("note", Shape.TEXT, "note The slides advertise an office suite"),
    Verb("pause", Shape.MAYBE_TEXT, "pause lunch"),
    Verb("resume", Shape.MAYBE_TEXT, "resume"),
    Verb("cut", Shape.TEXT, "cut 8:00..12:00", Rule(Check.CUT)),
    Verb(
        "verdict",
        Shape.TEXT,
        "verdict Ready to be handed out",
        fields={"for": _TEXT, "against": _TEXT, "score": _TEXT},
    ),
    Verb("end", Shape.TEXT, "end done", _words("done", "abandoned")),
)

VERBS: dict[str, Verb] = {row.word: row for row in _ROWS}

PHASES = ("boot", "live", "questions", "copy", "restart", "setup", "desktop", "update", "tour")
"""The phases of an installation in the order they usually come; a log may use names of its own besides."""
