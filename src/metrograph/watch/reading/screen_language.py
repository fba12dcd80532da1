"""Guesses in which language a screen is: by the words that its language alone has, or by what can be read best."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Iterable, Sequence
from functools import cache
from statistics import mean

from metrograph.languages.language_tables import tables
from metrograph.watch.inputs.frames import Grey
from metrograph.watch.reading.lines import Line
from metrograph.watch.reading.text_reader import Engine, ReadLine, for_engine
from metrograph.watch.reading.words import plain, without_accents, words_in

_REMEMBERED = 0.6  # of what earlier pages told: an installer changes its language on the first pages, and hardly again
_TOLD = 2.0  # words that one language alone has, by which it is believed
_AHEAD = 1.3  # times as many as the next language
_READ_BADLY = 0.72  # mean sureness of a page in a script that is not read: nearly all others are above
_LINES, _TRIED = 4, 5  # lines of a page that tell so; lines by which other languages are tried
_TRIALS = 4  # in one source: each takes as long as reading a page in every language
_BETTER = 0.1  # by so much another language has to be surer
_WIDE = 5  # heights: a shorter line may be an icon


class ScreenLanguage:
    """Follows the pages of a source. engine: what reads them; it is asked to try all its languages a few times only."""

    def __init__(self, engine: Engine) -> None:
        self._engine = engine
        self._told: Counter[str] = Counter()
        self._tried = 0

    def after(self, readings: Iterable[ReadLine], now: str) -> str:
        """The language of a page by its words; the one in which it was read where they do not tell."""
        words = {word for reading in readings for word in without_accents(plain(reading.text)).split()}
        told: defaultdict[str, float] = defaultdict(float)
        for word in words:
            for language in _speakers().get(word, ()):
                told[language] += 1 / len(_speakers()[word])
        self._told = Counter({name: _REMEMBERED * count for name, count in self._told.items()})
        self._told.update(told)
        ranked = [*self._told.most_common(2), ("", 0.0), ("", 0.0)]
        (best, most), (_, second) = ranked[:2]
        return best if most >= _TOLD and most >= _AHEAD * second else now

    def by_reading(self, grey: Grey, lines: Sequence[Line], readings: Sequence[ReadLine], now: str) -> str:
        """The language in which a page can be read that could hardly be read."""
        wide = [
            number for number, line in enumerate(lines) if line.width >= _WIDE * line.height and readings[number].text
        ]
        if len(wide) < _LINES or mean(readings[number].sure for number in wide) >= _READ_BADLY:
            return now
        if self._tried >= _TRIALS:
            return now
        self._tried += 1
        chosen = wide[:: max(len(wide) // _TRIED, 1)][:_TRIED]
        pictures = [for_engine(grey, lines[number]) for number in chosen]
        sure = {
            name: mean(reading.sure for reading in self._engine.read(pictures, name))
            for name in self._engine.languages()
        }
        best = max(sure, key=lambda name: sure[name], default=now)
        return best if sure and sure[best] >= mean(readings[number].sure for number in chosen) + _BETTER else now


@cache
def _speakers() -> dict[str, tuple[str, ...]]:
    """The languages that have a word, by the word without its accents: a reader of another language misses these."""
    found: defaultdict[str, set[str]] = defaultdict(set)
    for table in ("screens", "kinds"):
        for language, words in tables(table).items():
            for word in map(without_accents, words_in(words)):
                if len(word) > 1:
                    found[word].add(language)
    return {word: tuple(sorted(languages)) for word, languages in found.items()}
