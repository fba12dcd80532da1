"""Tells what a screen is for: by its question and heading, and where their words say nothing by what stands on it."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from functools import cache
from itertools import pairwise
from zoneinfo import available_timezones

from metrograph.log.lexicon import OTHER, Lexicon
from metrograph.privacy.secrets import is_secret
from metrograph.watch.pages.page import Page, Text
from metrograph.watch.reading.words import plain, tells_of_waiting

_LIST = 3  # lines that name things of one sort: fewer may be examples
_OF_DISKS = {"disk", "partitions"}
_NAMED = 2  # lines that name one kind, where no other is named as often
_OVERVIEW = 3  # kinds of screens that lines with values name: an overview of what was answered
_LABEL = re.compile(r"([^:：]{2,40})[:：]\s+\S")
_CLOCK = re.compile(r"\b(?:[01]?\d|2[0-3])[:.][0-5]\d\b")
_EDGE = 0.06  # of the height: where a desktop has its panels
_LEVEL = 6  # pixels by which buttons of one row differ in height
_ICON, _FEW = 3, 12  # words below an icon; lines of a desktop or a greeter, where a page has more or a sentence
_HEADING, _USUAL = (
    1.6,
    12,
)  # times the usual height of letters in pixels, as pictures are brought to it: a page's heading
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
_LANGUAGES = frozenset(
    [
        "english",
        "deutsch",
        "français",
        "español",
        "italiano",
        "português",
        "polski",
        "nederlands",
        "svenska",
        "dansk",
        "norsk",
        "suomi",
        "magyar",
        "čeština",
        "slovenčina",
        "română",
        "български",
        "русский",
        "українська",
        "ελληνικά",
        "türkçe",
        "hrvatski",
        "srpski",
        "српски",
        "slovenščina",
        "lietuvių",
        "latviešu",
        "eesti",
        "català",
        "euskara",
        "galego",
        "עברית",
        "العربية",
        "فارسی",
        "हिन्दी",
        "বাংলা",
        "தமிழ்",
        "ไทย",
        "tiếng",
        "中文",
        "日本語",
        "한국어",
        "bahasa",
        "esperanto",
        "gaeilge",
        "cymraeg",
        "íslenska",
        "shqip",
        "македонски",
        "беларуская",
        "қазақ",
        "ქართული",
    ]
)
"""What languages call themselves, in small letters."""


def kind_of(
    title: str, question: str, lines: Sequence[Text], lexicon: Lexicon, shared: bool = False, below: str = ""
) -> str:
    """What a screen is for; ``other`` where nothing tells.

    lines: what is the page's own; shared: whether the heading stands over several questions, so that these tell.
    below: the first sentence below the heading, which tells where nothing else does.
    """
    said = (question, title) if shared else (title, question)
    for text in said:
        kind = lexicon.kind_of(text)
        if kind != OTHER:
            return kind
    return next(_by_content(title, lines, lexicon), lexicon.kind_of(below))


def stands_alone(page: Page, lexicon: Lexicon) -> str:
    """What a page is that no installer shows, a greeter or a desktop; nothing where it may be an installer's."""
    height = page.size[1]
    inner = [line for line in page.said if _EDGE * height < line.top and line.bottom < (1 - _EDGE) * height]
    edges = [line for line in page.said if line not in inner]
    rows = [line.top for line in inner if line.button]
    has_row = any(abs(one - other) <= _LEVEL for one, other in pairwise(sorted(rows)))
    if has_row or any(line.mark for line in inner) or any(len(line.text.split()) > _ICON for line in inner):
        return ""
    logs_in = any(line.button and lexicon.kind_of(line.text) == "greeter" for line in inner)
    if logs_in and any(is_secret(line.text) or line.field for line in inner) and len(inner) <= _FEW:
        return "greeter"
    if any(tells_of_waiting(line.text) or lexicon.kind_of(line.text) != OTHER for line in inner):
        return ""
    clock = any(_CLOCK.search(line.text) for line in edges)
    return (
        "desktop" if clock and len(inner) <= _FEW and not any(line.tall > _HEADING * _USUAL for line in inner) else ""
    )


@cache
def _cities() -> frozenset[str]:
    """The cities after which zones of time are called, in small letters."""
    return frozenset(
        zone.rpartition("/")[2].replace("_", " ").casefold() for zone in available_timezones() if "/" in zone
    )


def _by_content(title: str, lines: Sequence[Text], lexicon: Lexicon) -> Iterator[str]:
    """Kinds that what stands on a page tells, the surest first."""
    texts = [line.text for line in lines if line.text != title and not line.button]
    if sum(is_secret(text) for text in texts if len(text.split()) <= 5) >= 2:
        yield "account"
    labels = {lexicon.kind_of(match[1]) for text in texts if (match := _LABEL.match(text))} - {OTHER}
    if len(labels) >= _OVERVIEW:
        yield "summary"
    for kind, found in (
        ("partitions", sum(bool(_ON_DISKS.search(text)) for text in texts)),
        ("language", sum(bool(_LANGUAGES & set(plain(text).split())) for text in texts if len(text.split()) <= 3)),
        ("keyboard", sum(bool(_LAYOUT.search(text)) for text in texts)),
        ("place", sum(bool(_ZONE.search(text)) or text.casefold() in _cities() for text in texts)),
    ):
        if found >= (_LIST if kind in {"language", "place"} else 2):
            yield kind
    named = Counter(kind for text in texts if (kind := lexicon.kind_of(text)) != OTHER)
    ranked = [*named.most_common(2), ("", 0), ("", 0)]
    if {kind for kind, _ in ranked[:2]} == _OF_DISKS:
        yield "disk"  # one way to use a disk is to divide it by hand
    if ranked[0][1] >= _NAMED and ranked[0][1] > ranked[1][1]:
        yield ranked[0][0]
