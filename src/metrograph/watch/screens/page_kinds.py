"""Tells what a screen is for: by its question and heading, and where their words say nothing by what stands on it."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Sequence
from functools import cache
from itertools import pairwise
from zoneinfo import available_timezones

from metrograph.log.lexicon import OTHER, Lexicon
from metrograph.privacy.secrets import is_secret
from metrograph.watch.pages.page import Page, Text
from metrograph.watch.reading.words import plain, tells_of_waiting

_LIST, _TWO = 3, 2  # lines that name languages or cities, of which fewer may be examples; that name other things
_OF_DISKS = {"disk", "partitions"}
_SHORT, _LABELLED = 3, 5  # words of a language's name; of a label
_OVERVIEW = 3  # kinds of screens that lines with values name: an overview of what was answered
_LABEL = re.compile(r"([^:：]{2,40})[:：]\s+\S")
_CLOCK = re.compile(r"\b(?:[01]?\d|2[0-3])[:.][0-5]\d\b")
_EDGE = 0.06  # of the height: where a desktop has its panels
_LEVEL = 6  # pixels by which buttons of one row differ in height
_ICON, _FEW = 3, 12  # words below an icon; lines of a desktop or a greeter, where a page has more or a sentence
_HEADING = 20  # pixels: letters of a heading, where pictures are brought to usual ones of twelve
_ON_DISKS = re.compile(
    r"(?<!\S)/(?:boot|home|var|efi|boot/efi)?(?!\S)|\b(?:ext[234]|btrfs|xfs|f2fs|ntfs|fat32|swap|lvm)\b"
    r"|/dev/[a-z]{2,}|\b(?:sd[a-z]|vd[a-z]|nvme\d)\d?\b",
    re.IGNORECASE,
)
_LAYOUT = re.compile(
    r"\((?:us|uk|dvorak|colemak|qwerty|azerty|qwertz|latin\d?|mac)\)|\b(?:dvorak|colemak|qwerty|azerty|qwertz)\b",
    re.IGNORECASE,
)
_ZONE = re.compile(r"\b(?:Europe|America|Asia|Africa|Australia|Pacific|Atlantic)/[A-Z]\w+|\bUTC[+-]?\d*\b|\bGMT[+-]\d")
_LANGUAGES = frozenset((
    "english", "deutsch", "français", "español", "italiano", "português", "polski", "nederlands", "svenska",
    "dansk", "norsk", "suomi", "magyar", "čeština", "slovenčina", "română", "български", "русский", "українська",
    "ελληνικά", "türkçe", "hrvatski", "srpski", "српски", "slovenščina", "lietuvių", "latviešu", "eesti", "català",
    "euskara", "galego", "עברית", "العربية", "فارسی", "हिन्दी", "বাংলা", "தமிழ்", "ไทย", "tiếng", "中文", "日本語",
    "한국어", "bahasa", "esperanto", "gaeilge", "cymraeg", "íslenska", "shqip", "македонски", "беларуская", "қазақ",
    "ქართული",
))  # fmt: skip
"""What languages call themselves, in small letters."""


def kind_of(title: str, question: str, lines: Sequence[Text], lexicon: Lexicon, below: str = "") -> str:
    """What a screen is for; ``other`` where nothing tells.

    lines: what is the page's own; below: the first sentence below the heading, which tells where nothing else does.
    """
    said = kind_by_words((title, question), lexicon)
    return said if said != OTHER else next(_by_content(title, lines, lexicon), lexicon.kind_of(below))


def kind_by_words(texts: Iterable[str], lexicon: Lexicon) -> str:
    """The kind that the first of some texts tells that tells one; ``other`` where none does."""
    return next((kind for text in texts if (kind := lexicon.kind_of(text)) != OTHER), OTHER)


def stands_alone(page: Page, lexicon: Lexicon) -> str:
    """What a page is that no installer shows, a greeter or a desktop; nothing where it may be an installer's."""
    height = page.size[1]
    inner = [line for line in page.said if _EDGE * height < line.top and line.bottom < (1 - _EDGE) * height]
    if len(inner) > _FEW or _is_asking(inner):
        return ""
    if _logs_in(inner, lexicon):
        return "greeter"
    clock = any(_CLOCK.search(line.text) for line in page.said if line not in inner)
    return "desktop" if clock and _is_bare(inner, lexicon) else ""


def _is_asking(lines: Sequence[Text]) -> bool:
    """Whether lines have what pages of installers have: buttons in a row, boxes, sentences."""
    tops = sorted(line.top for line in lines if line.button)
    in_a_row = any(after - before <= _LEVEL for before, after in pairwise(tops))
    return in_a_row or any(line.mark or len(line.text.split()) > _ICON for line in lines)


def _logs_in(lines: Sequence[Text], lexicon: Lexicon) -> bool:
    """Whether lines have a button to log in, and what asks for a password."""
    button = any(line.button and lexicon.kind_of(line.text) == "greeter" for line in lines)
    return button and any(is_secret(line.text) or line.field for line in lines)


def _is_bare(lines: Sequence[Text], lexicon: Lexicon) -> bool:
    """Whether lines may be a desktop's: no heading, nothing that an installer asks for or does."""
    return not any(
        line.tall >= _HEADING or tells_of_waiting(line.text) or lexicon.kind_of(line.text) != OTHER for line in lines
    )


@cache
def _cities() -> frozenset[str]:
    """The cities after which zones of time are called, in small letters."""
    names = (zone.rpartition("/")[2] for zone in available_timezones() if "/" in zone)
    return frozenset(name.replace("_", " ").casefold() for name in names)


def _by_content(title: str, lines: Sequence[Text], lexicon: Lexicon) -> Iterator[str]:
    """Kinds that what stands on a page tells, the surest first."""
    texts = [line.text for line in lines if line.text != title and not line.button]
    if sum(is_secret(text) for text in texts if len(text.split()) <= _LABELLED) >= _TWO:
        yield "account"
    labels = {lexicon.kind_of(match[1]) for text in texts if (match := _LABEL.match(text))} - {OTHER}
    if len(labels) >= _OVERVIEW:
        yield "summary"
    for kind, tells, least in _SORTS:
        if sum(map(tells, texts)) >= least:
            yield kind
    yield from _by_names(texts, lexicon)


def _names_language(text: str) -> bool:
    words = plain(text).split()
    return len(words) <= _SHORT and not _LANGUAGES.isdisjoint(words)


def _names_place(text: str) -> bool:
    return bool(_ZONE.search(text)) or text.casefold() in _cities()


_SORTS: tuple[tuple[str, Callable[[str], bool], int], ...] = (
    ("partitions", lambda text: bool(_ON_DISKS.search(text)), _TWO),
    ("language", _names_language, _LIST),
    ("keyboard", lambda text: bool(_LAYOUT.search(text)), _TWO),
    ("place", _names_place, _LIST),
)
"""Kinds by what one line of a list of theirs looks like, and how many lines have to."""


def _by_names(texts: Sequence[str], lexicon: Lexicon) -> Iterator[str]:
    """The kind that more lines name than any other."""
    named = Counter(kind for text in texts if (kind := lexicon.kind_of(text)) != OTHER)
    (first, most), (second, next_most) = [*named.most_common(2), ("", 0), ("", 0)][:2]
    if {first, second} == _OF_DISKS:
        yield "disk"  # one way to use a disk is to divide it by hand
    if most >= _TWO and most > next_most:
        yield first
