"""The gate that pages pass before anything of them is kept: no secret passes, nor who or where.

It hides by default. On a page that asks who somebody is, for a secret, or for a network, and on a summary, only title,
buttons and labels pass; anywhere else a line passes unless it looks like something personal, or says again what was
typed before. What was typed is known in memory alone.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterator, Sequence
from typing import NamedTuple

import msgspec
from rapidfuzz import fuzz

from metrograph.log.lexicon import Lexicon
from metrograph.privacy.leaks import leaks_in
from metrograph.privacy.secrets import is_secret
from metrograph.watch.pages.installer_words import is_known
from metrograph.watch.pages.misread_labels import reads_like_label
from metrograph.watch.pages.page import Page, Text
from metrograph.watch.pages.step_lists import step_lines
from metrograph.watch.reading.words import plain, tells_of_trouble

PRIVATE_KINDS = frozenset(
    {"account", "accounts", "admin", "host", "remote", "encryption", "network", "summary", "greeter"}
)
"""Kinds of screens that show what is somebody's."""
HIDDEN = "…"
"""What stands in the place of words that stay behind."""

_LABEL = 6  # words: what is longer is a sentence
_LEARNT = 4  # letters of a word that is known again: shorter ones stand in other words
_MISREAD = 85  # of 100: a typed word that is read a second time may differ by a letter of five
_BESIDE, _BELOW = 1.0, 2.6  # heights: how far the row of a label reaches up and down, and where a field below it ends
_DOTS = re.compile(r"[•●*.·∙°\s]{3,}")
_PROMPT = re.compile(r"\b[\w.-]+@[\w.-]+(?=[:~\s]|$)")
# Groups of signs as codes have them: with a figure somewhere or in capitals alone, else they are words of a sentence.
_CODE = re.compile(
    r"\b(?=[A-Za-z–— -]*\d)(?:[0-9A-Za-z]{4,8}[-–— ]){3,}[0-9A-Za-z]{4,8}\b"
    r"|\b(?:[0-9A-Z]{4,8}[-–— ]){3,}[0-9A-Z]{4,8}\b"
)
_LIKELY = 4  # lines of which one may be the title
_MARGIN = 0.5  # heights of a line that are blanked around it
_NEAR = 16  # pixels
_OF_DISKS = re.compile(
    r"[\d.,:%x+-]+|\d+(?:[.,]\d+)?[KMGT]i?B?|[KMGT]?i?B|/(?:dev/[a-z]{2,8}\d{0,3}[a-z0-9]{0,4}|boot|home|var|usr|efi|boot/efi|tmp)?"
    r"|(?:ext[234]|btrfs|xfs|zfs|f2fs|ntfs|fat32|vfat|swap|lvm|gpt|mbr|efi|uefi|bios)",
    re.IGNORECASE,
)
_MADE_UP = re.compile(
    r"(?=\S*\d)(?=\S*[^\W\d_])(?=\S*[#!$%&*+?=@^~\\])\S{6,}|(?=\S*\d)(?=\S*[a-z])(?=\S*[A-Z])[^\W_]{8,}"
)
_ENDS = (".", "?", ":", "!", "。", "？", "：", ";")
_HEADINGS = 3  # under so many a line stands beside every page: what is typed is shown on its page and in an overview
_NAME = 2  # words: what people name has hardly more
_SEPARATOR = re.compile(r"[:：]\s*(?=\S)")

Box = tuple[int, int, int, int]
"""Left, top, right, bottom in pixels."""


class Blanking(msgspec.Struct, frozen=True):
    """The parts of a picture that nobody is to see. boxes: these, or where ``all_but`` everything else."""

    boxes: tuple[Box, ...] = ()
    all_but: bool = False


class PassedPage(NamedTuple):
    """A page as it may be kept.

    blanking: of its picture, None where none may be kept; learnt: whether something was typed on it.
    """

    page: Page
    blanking: Blanking | None
    learnt: bool


class PageGate:
    """Lets pages pass in the order in which they were seen."""

    def __init__(self, lexicon: Lexicon) -> None:
        self._lexicon = lexicon
        self._typed: set[str] = set()
        # Lines of pages that asked for nothing, with their places: the name of the system, steps beside the page.
        self._stood: set[tuple[str, int, int]] = set()
        self._steps: set[tuple[str, int, int]] = set()
        self._under: defaultdict[tuple[str, int, int], set[str]] = defaultdict(set)  # the headings over each line

    def passed(self, page: Page, titles: Sequence[Text]) -> PassedPage:
        """A page without what is private. titles: the lines that are likely to be its title, the best first."""
        steps = self._steps_on(page)
        titles = [text for text in titles if text not in steps]
        labels = [text for text in page.texts if text not in steps and self._is_label(text)]
        kinds = {self._lexicon.kind_of(text.text) for text in titles[:2]}
        private = bool(kinds & PRIVATE_KINDS) or bool(labels)
        learnt = self._learn(page, [*labels, *steps], everything="network" in kinds) if private else False
        # What stands beside another line is its value: a label that could not be read hides nothing by itself.
        apart = [text for text in page.texts if text not in steps]
        titles = [text for text in titles if not _stands_beside(text, apart)] if private else titles
        likely = _may_be_title(titles, labels)
        kept = self._of_private(page, labels, [*likely, *steps]) if private else self._of_others(page, likely)
        texts = tuple(_with(text, said) for text, said in zip(page.texts, kept, strict=True))
        if not private:
            self._stood |= {_place(text) for text in texts if text.text and HIDDEN not in text.text}
        for text in page.texts:
            self._under[_place(text)].add(titles[0].text if titles else "")
        return PassedPage(msgspec.structs.replace(page, texts=texts), self._blanking(page, texts, private), learnt)

    def _steps_on(self, page: Page) -> list[Text]:
        """The names of steps beside a page, also where only an earlier page could tell that they are some."""
        found = [text for text in step_lines(page.texts, self._lexicon.kind_of) if self._is_nobodys(text)]
        self._steps |= {_place(text) for text in found}
        self._typed -= {word for text in found for word in _words_of(text.text)}
        return [text for text in page.texts if _place(text) in self._steps]

    def _surrounds(self, text: Text) -> bool:
        """Whether a line stood in its place when nothing was asked for, or under several headings."""
        place = _place(text)
        return place in self._stood or place in self._steps or len(self._under[place]) >= _HEADINGS

    def _is_nobodys(self, text: Text) -> bool:
        """Whether a line of a list names a step and nothing else: behind a label, a value may stand in its line."""
        asks = self._lexicon.is_personal(text.text) or is_secret(text.text)
        return not asks or _known_words(text.text) == text.text

    def _is_label(self, text: Text) -> bool:
        """Whether a line asks for something private."""
        said = _SEPARATOR.split(text.text, maxsplit=1)[0]
        few = len(plain(said).split()) <= _LABEL and not tells_of_trouble(text.text)
        asks = self._lexicon.is_personal(said) or is_secret(said) or reads_like_label(said)
        return few and asks and text.button is None and text.mark is None and not text.field

    def _of_private(self, page: Page, labels: Sequence[Text], titles: Sequence[Text]) -> Iterator[str]:
        """What may be kept of each line of a page that asks for something private: nothing that could be an answer."""
        asking = [text for text in page.texts if text in labels or ((text.field or text.mark) and text not in titles)]
        asked = min((text.top for text in asking), default=0)
        for text in page.texts:
            said = "" if _DOTS.fullmatch(text.text) else self._without_leaks(text.text)
            if self._surrounds(text):
                yield said
            elif text in labels:
                yield _label_alone(text.text)
            elif text.field:
                yield ""
            else:
                yield said if _is_offered(text) or text in titles else _of_installers(said, not text.bottom > asked > 0)

    def _of_others(self, page: Page, titles: Sequence[Text]) -> Iterator[str]:
        """What may be kept of each line of any other page; of values what is ordinary."""
        for text in page.texts:
            said = "" if _DOTS.fullmatch(text.text) else self._without_leaks(text.text)
            is_value = text.field or _stands_beside(text, page.texts)
            if is_value and not _is_offered(text) and text not in titles:
                yield _ordinary_words(said, is_field=text.field)
            else:
                yield said

    def _without_leaks(self, text: str) -> str:
        """A line without what looks private by itself, and without what was typed before."""
        spans = [(leak.start, leak.end) for leak in leaks_in(text)]
        spans += [match.span() for pattern in (_PROMPT, _CODE) for match in pattern.finditer(text)]
        for start, end in sorted(spans, reverse=True):
            text = f"{text[:start]}{HIDDEN}{text[end:]}"
        return re.sub(r"[^\W_]{2,}", lambda word: HIDDEN if self._was_typed(word[0]) else word[0], text)

    def _was_typed(self, word: str) -> bool:
        said = word.casefold()
        if is_known(said):
            return False  # however like something that was typed it looks
        if said in self._typed:
            return True
        return len(said) > _LEARNT and any(fuzz.ratio(said, typed) >= _MISREAD for typed in self._typed)

    def _learn(self, page: Page, labels: Sequence[Text], everything: bool) -> bool:
        """Notes what was typed on a page; whether anything was."""
        said = [_after(text.text) for text in labels]
        said += [
            text.text
            for text in page.texts
            if text not in labels
            and not text.button
            and not self._surrounds(text)
            and (text.field or not _is_said(text))
            and (everything or _is_answer(text, labels))
        ]
        words = {word for line in said for word in _words_of(line)}
        new = {word for word in words if len(word) >= _LEARNT and not is_known(word)}
        self._typed |= new
        return bool(new)

    def _blanking(self, page: Page, texts: Sequence[Text], private: bool) -> Blanking | None:
        if private:
            shown = tuple(_box(text, 0.25) for text in texts if text.text and HIDDEN not in text.text)
            return Blanking(shown, all_but=True) if shown else None
        pairs = zip(page.texts, texts, strict=True)
        return Blanking(tuple(_box(before, _MARGIN) for before, after in pairs if before.text != after.text))


def _may_be_title(titles: Sequence[Text], labels: Sequence[Text]) -> list[Text]:
    """What is likely to be the title and stands above all labels, the best of it, and the topmost.

    Which it is can be told when the film is known.
    """
    found = [
        text
        for text in titles[:_LIKELY]
        if not _is_answer(text, labels) and not any(map(_MADE_UP.fullmatch, text.text.split()))
    ]
    topmost = min((text.top for text in found), default=0)
    asked = min((text.top for text in labels), default=0)
    return [text for text in found if text is titles[0] or text.top == topmost or text.bottom <= asked]


def _words_of(text: str) -> list[str]:
    return [word.casefold() for word in re.findall(r"[^\W_]{2,}", text)]


def _is_answer(text: Text, labels: Sequence[Text]) -> bool:
    return text.field or any(_belongs(text, label) for label in labels)


def _is_offered(text: Text) -> bool:
    """Whether a line is the installer's own: a button, or what a box or a circle stands before."""
    return text.button is not None or text.mark is not None


def _is_said(text: Text) -> bool:
    """Whether a line is a sentence or a question, as nobody names a network."""
    return len(text.text.split()) > _NAME and text.text.endswith(_ENDS)


def _of_installers(text: str, introduces: bool = False) -> str:
    """A sentence without the words that no installer uses; anything shorter only where all of its words are.

    What an installer complains of is its own sentence, and quoted to a reader: only what may be a name goes. So is what
    it asks before the first field. introduces: whether the line stands above all of these.
    """
    if tells_of_trouble(text) or (introduces and text.endswith(_ENDS) and len(text.split()) > _NAME):
        return re.sub(
            r"(?<!^)\b[^\W\d_]*[A-Z\d]\w*", lambda word: word[0] if is_known(word[0].casefold()) else HIDDEN, text
        )
    known = _known_words(text)
    if len(plain(text).split()) > _LABEL:
        return known
    return text if known == text and re.search(r"[^\W\d_]", text) else ""


def _place(text: Text) -> tuple[str, int, int]:
    """A line and about where it stands: what stood there when nothing was asked for was typed by nobody."""
    return text.text, text.left // _NEAR, text.top // _NEAR


def _with(text: Text, said: str) -> Text:
    return text if text.text == said else msgspec.structs.replace(text, text=said)


def _label_alone(text: str) -> str:
    """A label without its value, which may stand behind a colon or just behind it."""
    parts = _SEPARATOR.split(text, maxsplit=1)
    if len(parts) > 1:
        return f"{_known_words(parts[0])}: {HIDDEN}"
    return text if text.rstrip().endswith((":", "?", "：")) and _known_words(text) == text else _known_words(text)


def _after(text: str) -> str:
    """What follows the label in its own line."""
    parts = _SEPARATOR.split(text, maxsplit=1)
    return parts[1] if len(parts) > 1 else text


def _known_words(text: str) -> str:
    """A line in which all words that no language table has are hidden."""
    return re.sub(r"[^\W_]+", lambda word: word[0] if is_known(word[0].casefold()) else HIDDEN, text)


def _ordinary_words(text: str, is_field: bool) -> str:
    """A value on a page that asks for nothing private: of a field, words of installers, sizes and places of disks.

    Beside a label a product may be named; what is made of letters, digits and signs alike is none.
    """

    def kept(word: re.Match[str]) -> str:
        said = word[0]
        if is_field:
            ordinary = _OF_DISKS.fullmatch(said) or all(map(is_known, plain(said).split()))
        else:
            ordinary = _MADE_UP.fullmatch(said) is None
        return said if ordinary else HIDDEN

    return re.sub(r"\S+", kept, text)


def _stands_beside(text: Text, texts: Sequence[Text]) -> bool:
    """Whether a line has another to its left in its row, as values have."""
    return any(
        other.right <= text.left and abs(other.top - text.top) <= _BESIDE * max(text.height, 1) for other in texts
    )


def _belongs(text: Text, label: Text) -> bool:
    """Whether a line stands beside a label, or below it where its field would be."""
    tall = max(label.height, 1)
    beside = text.left >= label.right and abs(text.top - label.top) <= _BESIDE * tall
    below = 0 < text.top - label.top <= _BELOW * tall + tall and abs(text.left - label.left) <= 2 * tall
    return beside or below


def _box(text: Text, margin: float) -> Box:
    around = round(margin * max(text.height, 8))
    return (text.left - 2 * around, text.top - around, text.right + 2 * around, text.bottom + around)
