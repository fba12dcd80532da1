"""Lays what was said out as one line in which figures and programs are marks, with the way back to moments."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Sequence

from metrograph.hearing.stream.captions import Word
from metrograph.hearing.stream.programs import Mention
from metrograph.hearing.stream.said_figures import FigureWords, SaidFigure, figures_in
from metrograph.hearing.stream.spoken import Token

_LONGEST_SAID = 12  # words
_CORRECTED = "x"  # the kind of a figure that was taken back: no pattern asks for it


class LineOfWords:
    """What was said as one line: ``memory at rest §s12 .``, where ``§s12`` is the twelfth figure, a size.

    figures: what the marks stand for, by their numbers; figure_spans: where these are in the line.
    """

    def __init__(
        self, words: Sequence[Word], tokens: Sequence[Token], named: Sequence[Mention], said: FigureWords
    ) -> None:
        self.words, self.tokens = words, tokens
        self.figures = _figures(tokens, named, said)
        self.figure_spans: list[tuple[int, int]] = []
        self._starts: list[int] = []  # of each piece in the line
        self._places: list[tuple[int, int]] = []  # of its tokens
        starting = {each.first: number for number, each in enumerate(self.figures)}
        pieces: list[str] = []
        length = place = 0
        while place < len(tokens):
            number = starting.get(place)
            end = place if number is None else self.figures[number].last
            piece = tokens[place].text if number is None else f"§{self.figures[number].kind}{number}"
            self._starts.append(length)
            if number is not None:
                self.figure_spans.append((length, length + len(piece)))
            self._places.append((place, end))
            pieces.append(piece + " ." if tokens[end].stop else piece)
            length += len(pieces[-1]) + 1
            place = end + 1
        self.line = " ".join(pieces)

    def without_corrected(self, corrections: str) -> None:
        """Takes away the marks of figures that somebody corrects: “5.2, no sorry, 5.3”.

        corrections: how that is said, as a part of a pattern.
        """
        between = rf"(?: \.)?(?: [^ §]+)? (?:{corrections})(?: \.)?(?: [^ §]+){{0,4}}? §[sdn]\d+"
        corrected = rf"§[sdn](\d+)(?={between})"
        self.line = re.sub(corrected, rf"§{_CORRECTED}\1", self.line)

    def is_said(self, offset: int) -> bool:
        """Whether the figure at a place was not taken back."""
        return self.line[offset + 1] != _CORRECTED

    def piece(self, offset: int) -> int:
        """The number of the piece that a place in the line belongs to."""
        return max(bisect_right(self._starts, offset) - 1, 0)

    def at(self, offset: int) -> float:
        """The moment of what ends at a place in the line, in seconds."""
        return self.tokens[self._places[self.piece(max(offset - 1, 0))][1]].at

    def until(self, at: float) -> int:
        """The place in the line at which a moment is reached."""
        return next(
            (start for start, (first, _) in zip(self._starts, self._places, strict=True) if self.tokens[first].at > at),
            len(self.line),
        )

    def said(self, start: int, end: int) -> str:
        """The words between two places in the line, a dozen at most."""
        first = self.tokens[self._places[self.piece(start)][0]].first
        last = self.tokens[self._places[self.piece(max(end - 1, 0))][1]].last
        return " ".join([word.text for word in self.words[first : last + 1]][-_LONGEST_SAID:])

    def before(self, offset: int, pieces: int) -> str:
        """So many pieces before a place, within the sentence."""
        start = self._starts[max(self.piece(offset) - pieces, 0)]
        return self.line[start:offset].rpartition(" .")[2]

    def after(self, offset: int, pieces: int) -> str:
        """So many pieces behind a place, within the sentence."""
        end = self._starts[min(self.piece(max(offset - 1, 0)) + pieces + 1, len(self._starts) - 1)]
        return self.line[offset:end].partition(" .")[0]

    def sentence(self, start: int, end: int) -> tuple[int, int]:
        """The places of the sentence around two places, a dozen pieces at most."""
        before, after = self.before(start, _LONGEST_SAID), self.after(end, _LONGEST_SAID)
        spare = max(_LONGEST_SAID - len(self.line[start:end].split()), 0)
        lead = before.split()[-max(spare // 2, spare - len(after.split())) :] if spare else []
        first = start - len(" ".join(lead)) - bool(lead) if lead else start
        return max(first, 0), end + len(" ".join(after.split()[: spare - len(lead)])) + 1

    def behind(self, offset: int, pieces: int) -> str:
        """So many pieces behind a place, whatever ends between."""
        place = self.piece(max(offset - 1, 0)) + pieces + 1
        return self.line[offset : self._starts[place] if place < len(self._starts) else len(self.line)]

    def figure(self, mark: str) -> SaidFigure | None:
        """The figure that a mark stands for; None where it is none."""
        found = re.search(r"§[a-z](\d+)", mark)
        return None if found is None else self.figures[int(found[1])]

    def version(self, marks: str) -> str:
        """A version from the numbers that are said of it one after the other: six eighteen is 6.18."""
        numbers = [figure.value for mark in marks.split() if (figure := self.figure(mark)) is not None]
        if len(numbers) > 2 and all(len(each) == 1 for each in numbers):
            return "".join(numbers)
        if len(numbers) == 2 and numbers[0] == "1" and re.fullmatch(r"\d\d", numbers[1]) and "point" not in marks:
            return "".join(numbers)  # one forty seven
        joined = ".".join(numbers)
        return f"{joined[0]}.{joined[1:]}" if re.fullmatch(r"[3-9]\d\d(?:\.\d+)?", joined) else joined

    def in_words(self, said: str) -> str:
        """A text with its figures in the place of their marks."""
        return " ".join(figure.value if (figure := self.figure(each)) is not None else each for each in said.split())


def _figures(tokens: Sequence[Token], named: Sequence[Mention], said: FigureWords) -> list[SaidFigure]:
    """Figures and programs, none over another, in their order."""
    programs = {mention.first: mention for mention in named}
    found: list[SaidFigure] = []
    place = 0
    while place < len(tokens):
        mention = programs.get(place)
        figure = figures_in(tokens, place, said) if mention is None else None
        if mention is not None:
            figure = SaidFigure("p", mention.name, mention.first, mention.last)
        if figure is not None:
            found.append(figure)
        place = place + 1 if figure is None else figure.last + 1
    return found
