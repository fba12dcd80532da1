"""Tells what a screen is for: by its question and heading, and where their words say nothing by what stands on it."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Sequence

from metrograph.log.lexicon import OTHER, Lexicon
from metrograph.privacy.secrets import is_secret
from metrograph.watch.pages.page import Text
from metrograph.watch.reading.words import plain

_LIST = 3  # lines that name things of one sort: fewer may be examples
_NAMED = 2  # lines that name one kind, where no other is named as often
_OVERVIEW = 3  # kinds of screens that lines with values name: an overview of what was answered
_LABEL = re.compile(r"([^:：]{2,40})[:：]\s+\S")
_ON_DISKS = re.compile(
    r"(?<!\S)/(?:boot|home|var|efi|boot/efi)?(?!\S)|\b(?:ext[234]|btrfs|xfs|f2fs|ntfs|fat32|swap|lvm)\b|/dev/[a-z]{2,}|\b(?:sd[a-z]|vd[a-z]|nvme\d)\d?\b",
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


def kind_of(title: str, question: str, lines: Sequence[Text], lexicon: Lexicon, shared: bool = False) -> str:
    """What a screen is for; ``other`` where nothing tells.

    lines: what is the page's own; shared: whether the heading stands over several questions, so that the question tells.
    """
    said = (question, title) if shared else (title, question)
    for text in said:
        kind = lexicon.kind_of(text)
        if kind != OTHER:
            return kind
    return next(_by_content(title, lines, lexicon), OTHER)


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
        ("place", sum(bool(_ZONE.search(text)) for text in texts)),
    ):
        if found >= (_LIST if kind == "language" else 2):
            yield kind
    named = Counter(kind for text in texts if (kind := lexicon.kind_of(text)) != OTHER)
    ranked = [*named.most_common(2), ("", 0), ("", 0)]
    if ranked[0][1] >= _NAMED and ranked[0][1] > ranked[1][1]:
        yield ranked[0][0]
