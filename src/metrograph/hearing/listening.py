"""Finds statements in what was said, each with the clues that speak for and against it."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from string import capwords

import msgspec

from metrograph.hearing.finding.figures_of import figures_of
from metrograph.hearing.finding.said_answers import answers
from metrograph.hearing.finding.subject import find_desktops, find_system
from metrograph.hearing.finding.trials import trials
from metrograph.hearing.places import WINDOW, SlotModel, slots_of
from metrograph.hearing.said_once import joined_clues, told_once
from metrograph.hearing.speech_patterns import Speech, SpeechPattern, speech
from metrograph.hearing.statements import BYTES, EARLIER, IN_WORDS, THIS, Statement
from metrograph.hearing.stream.captions import Word
from metrograph.hearing.stream.line_of_words import LineOfWords
from metrograph.hearing.stream.programs import KnownNames, Mention, is_everyday, is_stranger, mentions
from metrograph.hearing.stream.said_figures import bare_size, figure_words
from metrograph.hearing.stream.spoken import number_words, tokens_of
from metrograph.hearing.weighing import LEAST, ClueWeights, weigh
from metrograph.languages.language_tables import FIRST, tables

_ASKING = frozenset({"boot", "live", "questions", "setup"})
_SHOWN = frozenset({"live", "tour", "desktop"})
"""Parts of the job in which programs are shown."""
_SPELT = frozenset({"fact", "choose", "keep"})
_NAMES = frozenset({"codename", "base", "desktop", "edition", "theme", "installer", "timezone", "language"})
_DATED = frozenset({"reading", "fact", "elapsed", "claim"})
"""Kinds of which an earlier state is told beside that of today."""
_FAR = 4  # releases that are still spoken of


class HeardTalk(msgspec.Struct, frozen=True):
    """All that was heard. seconds: how long it was talked; system: the name and version that it is about, if known."""

    statements: tuple[Statement, ...]
    seconds: float
    system: str = ""


class Ears(msgspec.Struct, frozen=True):
    """What somebody listens with.

    names: of programs, and which of them are on the machine. release: the version of the release that is reviewed,
    where it is known; else the first that is named. desktops: names that may be one. least: how sure a statement has
    to be. slots, sureness, speech: other weights and patterns than those of the program.
    """

    names: KnownNames = KnownNames()
    language: str = "eng"
    release: str = ""
    desktops: frozenset[str] = frozenset()
    least: float = LEAST
    slots: SlotModel | None = None
    sureness: ClueWeights | None = None
    speech: Speech | None = None


def listen(words: Sequence[Word], ears: Ears) -> HeardTalk:
    """What is stated in a stream of words, in its order."""
    if not words:
        return HeardTalk((), 0.0)
    listener = _listener(words, ears)
    found = told_once(list(weigh(joined_clues(listener.statements()), ears.sureness)))
    kept = sorted((each for each in found if each.sure >= ears.least), key=lambda each: each.at)
    return HeardTalk(tuple(kept), words[-1].at, listener.system_name)


def language_of(words: Sequence[Word]) -> str:
    """The language that is spoken, by its small words, among those that are understood."""
    said = Counter(word.text.casefold().strip(".,!?") for word in words)
    often = {name: sum(said[each] for each in table.get("often", ())) for name, table in tables("statements").items()}
    return max(often, key=lambda name: often[name], default=FIRST)


def all_that_may_be_said(words: Sequence[Word], ears: Ears) -> list[Statement]:
    """Every statement that there may be in a stream of words, with what speaks for and against it, however unsure."""
    return joined_clues(_listener(words, ears).statements()) if words else []


def _listener(words: Sequence[Word], ears: Ears) -> _Listener:
    tokens = tokens_of(words, number_words(ears.language))
    known = ears.speech or speech(ears.language)
    named = mentions(tokens, ears.names, known.naming.language)
    line = LineOfWords(words, tokens, named, figure_words(ears.language))
    line.without_corrected(known.corrections)
    return _Listener(line, named, ears, known)


class _Listener:
    """Goes through a line of words and says what is stated in it."""

    def __init__(self, line: LineOfWords, named: Sequence[Mention], ears: Ears, known: Speech) -> None:
        self.line, self.ears = line, ears
        self.speech = known
        self.mentions = {mention.first: mention for mention in named}
        self.slots = slots_of(line.tokens, ears.slots, known.as_english)
        self.system = find_system(self.line, self.speech)
        self.release = ears.release or (self.system.version if self.system else "")
        self.system_name = f"{capwords(self.system.name)} {self.system.version}" if self.system else ""

    def statements(self) -> list[Statement]:
        """All that may be stated, some of it twice."""
        found = [each for pattern in self.speech.patterns for each in self._by_pattern(pattern)]
        return [
            *found,
            *self._figures(),
            *self._trials(),
            *self._answers(),
            *self._software(),
            *self._without(),
            *self._strangers(),
            *self._subject(),
            *self._fronts(),
        ]

    def _by_pattern(self, pattern: SpeechPattern) -> Iterator[Statement]:
        for match in pattern.says.finditer(self.line.line):
            groups = match.groupdict()
            end = match.end("v") if groups.get("v") is not None else match.end()
            slot = self.slot_at(self.line.at(end))
            negated = groups.get("t") is not None and pattern.kind == "fact" and self.speech.denied.search(
                self.line.before(match.start("t"), 3)
            )  # fmt: skip
            value = None if negated or (pattern.slots and slot not in pattern.slots) else self._value(pattern, match)
            if value is not None:
                clues = {pattern.name, f"{pattern.kind} in {slot}"} | ({"weak"} if pattern.weak else set())
                yield self._stated((match.start(), match.end(), end), (pattern.kind, pattern.key, value), clues)

    def _figures(self) -> Iterator[Statement]:
        """What the figures are of."""
        for each in figures_of(self.line, self.speech.topics, lambda place: self.slot_at(self.line.at(place))):
            what = each.topic.kind, each.topic.key, self._guessed(each.value, each.start)
            yield self._stated((each.start, each.end, each.end), what, set(each.clues))

    def _trials(self) -> Iterator[Statement]:
        """What was tried, and how it went."""
        for each in trials(self.line, self.speech.tried, self.speech.went):
            slot = self.slot_at(self.line.at(each.end))
            clues = each.clues | {f"check in {slot}", f"{each.key} in {slot}"}
            yield self._stated((each.start, each.end, each.end), ("check", each.key, each.went), set(clues))

    def _guessed(self, value: str, start: int) -> str:
        """A figure with the sign of one that is said to be about right."""
        return f"~{value}" if self.speech.about.search(self.line.before(start, 2).strip()) else value

    def _answers(self) -> Iterator[Statement]:
        """What was answered where an installer asks."""
        for each in answers(self.line, self.speech.questions, self.speech.answer_words):
            slot = self.slot_at(self.line.at(each.end))
            if slot in _ASKING:
                value = self.speech.values.get(each.value, each.value)
                clues = {f"answer {each.key}", f"{each.kind} by {each.sign}", f"{each.kind} in {slot}"}
                yield self._stated((each.start, each.end, each.end), (each.kind, each.key, value), clues)

    def _value(self, pattern: SpeechPattern, match: re.Match[str]) -> str | None:
        """What a pattern states; None where it states nothing after all."""
        groups = {name: said for name, said in match.groupdict().items() if said is not None}
        if "v" in groups:
            figure = self.line.figure(groups["v"])
            if figure is None:
                return None
            value = bare_size(figure.value) if figure.kind == "n" and pattern.key in BYTES else figure.value
            guessed = figure.kind != "p" and self.speech.about.search(self.line.before(match.start("v"), 2).strip())
            return f"~{value}" if guessed and value else value
        if "ver" in groups or "name" in groups:
            return self.line.version(groups["ver"]) if "ver" in groups else self._name(groups["name"])
        if "text" in groups:
            plain = groups["text"].split()[0] in self.speech.plain
            return None if plain else self.line.in_words(groups["text"])
        if "year" in groups:
            return f"{groups.get('t', '')}{self.line.in_words(groups['year']).replace(' ', '')}".strip()
        return self.speech.values.get(groups["t"], groups["t"]) if "t" in groups else pattern.value or "-"

    def _name(self, said: str) -> str | None:
        """What is called by a name: one word or two that nobody says of anything else, and a number; or nothing."""
        words = [word for word in said.split() if not word.startswith("§")]
        if words[0] in self.speech.plain or is_everyday(words[0], self.speech.naming.language):
            return None
        if words[1:] and (words[1] in self.speech.plain or is_everyday(words[1], self.speech.naming.language)):
            return words[0]
        return self.line.in_words(said)

    def _stated(self, span: tuple[int, int, int], what: tuple[str, str, str], clues: set[str]) -> Statement:
        """A statement from a place to another, whose moment is that of what ends at the third."""
        start, end, moment = span
        (kind, key, value), at = what, self.line.at(moment)
        patterns = self.speech.others if kind != "compare" else (*self.speech.compared, *self.speech.others)
        named = self._named(start, end, patterns)
        # A comparison is of this release, whatever it is held against; what else was before is told with its figure.
        about = (
            THIS if kind in {"compare", "screen"} else named or (self._before(start, end) if kind in _DATED else THIS)
        )
        said = self.line.said(*(self.line.sentence(start, end) if kind in IN_WORDS else (start, end)))
        value = _as_written(value, self.line.said(start, end), key in _NAMES) if kind in _SPELT else value
        return Statement(
            at, kind, key, value, about, self.slot_at(at), 0.5, said, frozenset(clues | self._around(kind, start, end)),
            named if kind == "compare" else "",
        )  # fmt: skip

    # -- where, of whom, against ---------------------------------------------------------------------------------------

    def slot_at(self, at: float) -> str:
        """Where in the job a moment is."""
        return [slot for start, slot in self.slots if start <= at][-1]

    def _around(self, kind: str, start: int, end: int) -> set[str]:
        """What stands around a statement that speaks against it, or for one of its kind, by the name of that."""
        around = f"{self.line.before(start, 7)} {self.line.line[start:end]} {self.line.after(end, 6)}"
        clues = {name for name, words in self.speech.against.items() if words.search(around)}
        clues |= {f"{kind} {name}" for name, words in self.speech.favour.items() if words.search(around)}
        return clues | (
            {f"{kind} begins"}
            if self.line.line[:start].endswith((" . ", " and ", " so ", " now ", " then "))
            else set()
        )

    def _named(self, start: int, end: int, patterns: Sequence[re.Pattern[str]]) -> str:
        """The other release that is named around a statement; empty where none is."""
        before = self.line.before(start, 12)
        if self.system is not None:
            named = re.findall(rf"(?<![\w§]){re.escape(self.system.name)} (§n\d+)", before)
            figure = self.line.figure(named[-1]) if named else None
            if figure is not None and not self._is_this(figure.value):
                return f"{self.system.name} {figure.value}"
        inside = self.line.line[start:end]
        for pattern in patterns:
            for match in pattern.finditer(f"{before}{inside}{self.line.after(end, 4)}"):
                figure = self.line.figure(match["other"])
                # Behind a statement “in 8.0 it was” begins another one.
                begins = match.start() > len(before) + len(inside) and match.groupdict().get("then")
                if figure is not None and not begins and self._may_be_another(figure.value):
                    return figure.value
        return ""

    def _before(self, start: int, end: int) -> str:
        """Whether it is said of an earlier release that is not named."""
        around = f"{self.line.before(start, 8)}{self.line.line[start:end]}"
        return EARLIER if self.speech.earlier.search(around) else THIS

    def _may_be_another(self, version: str) -> bool:
        """Whether a number may be that of another release: they are counted up, so it is not far from this one's."""
        if not re.fullmatch(r"\d{1,2}(?:\.\d+)?", version) or self._is_this(version):
            return False
        this = re.match(r"\d+", self.release)
        return this is None or abs(int(this[0]) - int(version.partition(".")[0])) <= _FAR

    def _is_this(self, version: str) -> bool:
        """Whether a number is the version that is reviewed, as far as it is said."""
        return version == self.release or self.release.startswith(f"{version}.") or version == f"{self.release}.0"

    # -- the system and its desktop ------------------------------------------------------------------------------------

    def _subject(self) -> Iterator[Statement]:
        """The release itself, the desktop, and the versions that are said of it."""
        if self.system is not None:
            span = self.system.start, self.system.end, self.system.end
            yield self._stated(span, ("fact", "version", self.system.version), {self.system.sign})
        plain = self.speech.plain | ({self.system.name} if self.system else set())
        for said in find_desktops(self.line, self.speech, plain, self.ears.desktops):
            slot = self.slot_at(self.line.at(said.end))
            if said.version or slot not in {"questions", "copy"}:
                what = ("desktop-version", said.version) if said.version else ("desktop", said.name)
                clues = {said.sign, f"{said.sign} in {slot}", f"{what[0]} in {slot}"}
                yield self._stated((said.start, said.end, said.end), ("fact", *what), clues)

    def _fronts(self) -> Iterator[Statement]:
        """The screens that are in front when a part of the job begins."""
        for at, slot in self.slots[1:]:
            key = self.speech.fronts.get(slot)
            if key is not None:
                clues = frozenset({"weak", "part begins", f"screen in {slot}"})
                yield Statement(at + WINDOW / 2, "screen", key, "-", THIS, slot, 0.5, "", clues)

    # -- software ------------------------------------------------------------------------------------------------------

    def _software(self) -> Iterator[Statement]:
        """Programs on board and missing, and their versions, by the signs around their names."""
        for match in re.finditer(r"§p(\d+)", self.line.line):
            mention = self.mentions[self.line.figures[int(match[1])].first]
            start, end = match.span()
            version = self.speech.version_behind.match(self.line.line, end)
            said = self.line.version(version["ver"]) if version is not None else ""
            if version is not None and mention.on_machine and ("." in said or len(said) > 1):
                what = "fact", "other", f"{mention.name} {said}"
                yield self._stated((start, version.end(), version.end()), what, {"program-version"})
            kind, sign = self._there(start, end, mention.on_machine)
            if kind:
                clues = {f"{kind} {sign}", f"{kind} in {self.slot_at(self.line.at(end))}"}
                clues |= {"on-machine" if mention.on_machine else "not-on-machine"}
                clues |= {"misheard"} if mention.score < 1 else set()
                yield self._stated((start, end, end), (kind, "-", mention.name), clues)

    def _without(self) -> Iterator[Statement]:
        """What programs that are missing would be for, where no name is said."""
        for match in self.speech.purposes.finditer(self.line.line):
            if self.speech.lacks_before.search(self.line.before(match.start(), 6).strip()):
                clues = {"lacks a purpose", f"lacks in {self.slot_at(self.line.at(match.end()))}"}
                yield self._stated((*match.span(), match.end()), ("lacks", "-", f"({match[0]})"), clues)

    def _strangers(self) -> Iterator[Statement]:
        """Words that nobody knows, where the menu is gone through: names, where no list says what is on the machine."""
        if self.ears.names.has_machine:
            return
        system = self.system.name.split() if self.system else []
        for match in re.finditer(r"(?<![\w§])[a-z]{5,}(?!\w)", self.line.line):
            word, slot = match[0], self.slot_at(self.line.at(match.end()))
            if (
                slot in _SHOWN
                and word not in self.speech.known
                and word not in system
                and is_stranger(word, self.speech.naming.language)
            ):
                kind, sign = self._there(*match.span(), on_machine=False)
                if kind:
                    clues = {f"stranger {kind} {sign}", f"stranger in {slot}"}
                    yield self._stated((*match.span(), match.end()), (kind, "-", capwords(word)), clues)

    def _there(self, start: int, end: int, on_machine: bool) -> tuple[str, str]:
        """Whether a program is said to be on board or missing, by which sign; neither for an empty text."""
        before, after = self.line.before(start, 6), self.line.after(end, 6)
        if self.speech.lacks_before.search(before.strip()) or self.speech.lacks_after.match(after):
            return ("", "") if on_machine else ("lacks", "gone")
        if self.ears.names.has_machine and not on_machine and self.speech.lacks_unlisted.search(before.strip()):
            return "lacks", "not there"
        for name, words in self.speech.neither.items():
            if words.search(f"{before} § {after}"):
                return "", name
        listed = on_machine or not self.ears.names.has_machine
        return "carries", "named" if listed else "named though not listed"


def _as_written(value: str, said: str, name: bool) -> str:
    """A value in the letters in which it was written; a name begins with large ones, if no letter of it is large."""
    found = re.search(rf"(?<!\w){re.escape(value)}(?!\w)", said, re.IGNORECASE)
    written = value if found is None else found[0]
    return capwords(written) if name and written.islower() else written
