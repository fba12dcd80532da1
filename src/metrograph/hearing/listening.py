"""Finds statements in what was said: by patterns of the language, with what speaks for and against each."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from functools import cache
from typing import Any

import msgspec

from metrograph.hearing.captions import Word
from metrograph.hearing.places import WINDOW, SlotModel, slots_of
from metrograph.hearing.programs import KnownNames, Mention, mentions
from metrograph.hearing.spoken import Token, number_words, tokens_of
from metrograph.hearing.statements import Statement
from metrograph.hearing.weighing import LEAST, Weights, weigh
from metrograph.languages.language_tables import tables


class Heard(msgspec.Struct, frozen=True):
    """All that was heard. seconds: how long it was talked."""

    statements: tuple[Statement, ...]
    seconds: float


class _Entity(msgspec.Struct, frozen=True):
    """A size, a length of time, a number or a program in what was said. value: as a statement has it."""

    kind: str
    value: str
    first: int
    last: int


class Rule(msgspec.Struct, frozen=True):
    """A pattern of a language: what it says where it is found.

    value: a text, or the name of a group of the pattern; many: whether it says so of each name in the group.
    near: words of which one must stand within some words before it; slots: where alone it is said.
    """

    kind: str
    key: str
    pattern: re.Pattern[str]
    value: str = ""
    slots: frozenset[str] = frozenset()
    name: str = ""
    weak: bool = False


_SHORT = {"S": r"(?P<v>~?§s\d+)", "D": r"(?P<v>~?§d\d+)", "N": r"(?P<v>~?§n\d+)", "P": r"(?P<v>§p\d+)"}
_LONGEST_SAID = 12  # words


class _Text:
    """What was said as one line of words, in which figures and programs are marks, with the way back to moments."""

    def __init__(self, words: Sequence[Word], tokens: Sequence[Token], entities: Sequence[_Entity]) -> None:
        self.words, self.tokens = words, tokens
        self.entities = list(entities)
        self.starts: list[int] = []  # of each piece in the line
        self.places: list[tuple[int, int]] = []  # of its tokens
        pieces: list[str] = []
        length = 0
        starting = {each.first: number for number, each in enumerate(self.entities)}
        place = 0
        while place < len(tokens):
            number = starting.get(place)
            end = self.entities[number].last + 1 if number is not None else place + 1
            piece = f"§{self.entities[number].kind}{number}" if number is not None else tokens[place].text
            self.starts.append(length)
            self.places.append((place, end - 1))
            piece += " ." if tokens[end - 1].stop else ""
            pieces.append(piece)
            length += len(piece) + 1
            place = end
        self.line = " ".join(pieces)

    def piece_at(self, offset: int) -> int:
        """The piece that a place in the line belongs to."""
        import bisect

        return max(bisect.bisect_right(self.starts, offset) - 1, 0)

    def at(self, offset: int) -> float:
        """The moment of what ends at a place in the line."""
        return self.tokens[self.places[self.piece_at(max(offset - 1, 0))][1]].at

    def said(self, start: int, end: int) -> str:
        """The words between two places in the line, a dozen at most."""
        first, last = self.tokens[self.places[self.piece_at(start)][0]].first, self.tokens[
            self.places[self.piece_at(max(end - 1, 0))][1]].last
        words = [word.text for word in self.words[first : last + 1]]
        return " ".join(words[-_LONGEST_SAID:])

    def before(self, offset: int, pieces: int) -> str:
        """So many pieces before a place, within the line."""
        index = self.piece_at(offset)
        return self.line[self.starts[max(index - pieces, 0)] : offset]

    def after(self, offset: int, pieces: int) -> str:
        """So many pieces behind a place."""
        index = min(self.piece_at(max(offset - 1, 0)) + pieces + 1, len(self.starts) - 1)
        return self.line[offset : self.starts[index]]

    def entity(self, mark: str) -> _Entity | None:
        """The entity that a mark stands for."""
        found = re.search(r"§[a-z](\d+)", mark)
        return None if found is None else self.entities[int(found[1])]


def listen(
    words: Sequence[Word], names: KnownNames, language: str = "eng", release: str = "", model: SlotModel | None = None,
    weights: Weights | None = None,
) -> Heard:
    """What is stated in a stream of words.

    names: of programs, and which of them are on the machine.
    release: the version of the release that is reviewed, where it is known; else the first that is named.
    """
    table = tables("statements").get(language, {})
    tokens = tokens_of(words, number_words(language))
    named = mentions(tokens, names)
    text = _Text(words, tokens, _entities(tokens, named, table))
    found = list(_Listener(text, table, named, names, release, model).statements())
    sure = (each for each in weigh(found, weights) if each.sure >= LEAST)
    statements = tuple(sorted(sure, key=lambda each: each.at))
    return Heard(statements, words[-1].at if words else 0.0)


@cache
def _rules(language: str) -> tuple[Rule, ...]:
    return ()


def _compiled(table: Mapping[str, Any]) -> list[Rule]:
    sets = {name: "|".join(sorted(map(re.escape, words), key=len, reverse=True)) for name, words in
            table.get("sets", {}).items()}  # fmt: skip
    rules = []
    counts: dict[str, int] = {}
    for row in table.get("rules", ()):
        what = f"{row['kind']} {row.get('key', '')}".strip()
        counts[what] = number = counts.get(what, 0) + 1
        pattern = row["says"].replace("(?p<", "(?P<")  # tables are read in small letters
        for name, words in sets.items():
            pattern = pattern.replace(f"<{name}>", f"(?:{words})").replace(f"<={name}>", f"(?P<t>{words})")
        for short, long in _SHORT.items():
            pattern = pattern.replace(f"<{short.lower()}>", long)
        rules.append(
            Rule(row["kind"], row.get("key", ""), re.compile(rf"(?<![\w§])(?:{pattern})(?![\w])"), row.get("value", ""),
                 frozenset(row.get("slots", ())), f"{what} {number}", row.get("weak", False))
        )  # fmt: skip
    return rules


# -- figures -----------------------------------------------------------------------------------------------------------

_SIZE_UNITS = {
    "kilobytes": 1e3, "kb": 1e3, "megabytes": 1e6, "megabyte": 1e6, "mb": 1e6, "megs": 1e6, "meg": 1e6, "mega": 1e6, "mib": 2**20,
    "mebibytes": 2**20, "gigabytes": 1e9, "gigabyte": 1e9, "gb": 1e9, "gigs": 1e9, "gig": 1e9, "giga": 1e9, "gib": 2**30,
    "gibibytes": 2**30, "terabytes": 1e12, "terabyte": 1e12, "tb": 1e12,
}  # fmt: skip
_TIME_UNITS = {
    "seconds": 1, "second": 1, "secs": 1, "sec": 1, "s": 1, "minutes": 60, "minute": 60, "mins": 60, "min": 60,
    "hours": 3600, "hour": 3600,
}  # fmt: skip
_HALF = ("and a half", "and half")
_ABOUT = re.compile(r"(?:about|around|roughly|some|like|maybe|nearly|almost|approximately|circa|call it|something like)$")


def _entities(tokens: Sequence[Token], named: Sequence[Mention], table: Mapping[str, Any]) -> list[_Entity]:
    """Sizes, lengths of time, numbers and programs, none over another, in their order."""
    taken: dict[int, _Entity] = {}
    programs = {mention.first: mention for mention in named}
    place = 0
    while place < len(tokens):
        if place in programs:
            mention = programs[place]
            taken[place] = _Entity("p", mention.name, mention.first, mention.last)
            place = mention.last + 1
            continue
        found = _quantity(tokens, place)
        if found is not None:
            taken[place] = found
            place = found.last + 1
        else:
            place += 1
    return [taken[key] for key in sorted(taken)]


def _quantity(tokens: Sequence[Token], start: int) -> _Entity | None:
    """A figure with its unit, or a bare number, that begins at a place."""
    text = tokens[start].text
    words = [token.text for token in tokens[start : start + 8]]
    value: float | None = None
    used = 1
    glued = re.fullmatch(r"(\d+(?:[.,]\d+)?)(gb|mb|gib|mib|kb|tb|s|g|m)", text)
    if glued:
        unit = {"g": "gb", "m": "mb"}.get(glued[2], glued[2])
        number = float(glued[1].replace(",", "."))
        if unit in _SIZE_UNITS:
            return _Entity("s", f"{number * _SIZE_UNITS[unit]:.0f}", start, start)
        return _Entity("d", f"{number:g}", start, start)
    if clock := re.fullmatch(r"(\d{1,3}):(\d{2})(?::(\d{2}))?", text):
        whole = int(clock[1]) * 60 + int(clock[2])
        return _Entity("d", str(whole * 60 + int(clock[3]) if clock[3] else whole), start, start)
    if percent := re.fullmatch(r"(\d+(?:\.\d+)?)%", text):
        return _Entity("n", f"{float(percent[1]) / 100:g}", start, start)
    if re.fullmatch(r"\d+(?:[.,]\d+)?", text):
        value = float(text.replace(",", "."))
    elif text in {"a", "one", "an"} and words[1:2] and (words[1] in {"gig", "gigabyte", "minute", "second", "hour", "hundred", "giga"}):
        value = 1.0
        if words[1] == "hundred":
            value, used = 100.0, 2
    elif text == "half" and words[1:2] in (["a"], ["an"]) and len(words) > 2:
        value, used = 0.5, 2
    elif words[:4] == ["quarter", "of", "an", "hour"]:
        return _Entity("d", "900", start, start + 3)
    elif words[:2] == ["half", "hour"] or words[:3] == ["half", "an", "hour"]:
        return _Entity("d", "1800", start, start + len(words[:2]) - 1 + (words[1] == "an"))
    if value is None:
        return None
    high: float | None = None
    if words[used : used + 3] == ["and", "a", "half"]:
        value, used = value + 0.5, used + 3
    if words[used : used + 1] in (["to"], ["or"]) and used + 1 < len(words) and re.fullmatch(r"\d+(?:\.\d+)?", words[used + 1]):
        unit = words[used + 2] if used + 2 < len(words) else ""
        if unit in _SIZE_UNITS or unit in _TIME_UNITS:
            high, used = float(words[used + 1]), used + 2
    unit = words[used] if used < len(words) else ""
    half = words[used + 1 : used + 4] == ["and", "a", "half"]
    if unit in _SIZE_UNITS:
        factor = _SIZE_UNITS[unit]
        value += 0.5 * half
        shown = f"{value * factor:.0f}" if high is None else f"{value * factor:.0f}..{high * factor:.0f}"
        return _Entity("s", shown, start, start + used + 3 * half)
    if unit in _TIME_UNITS:
        factor = _TIME_UNITS[unit]
        value += 0.5 * half
        seconds, used = value * factor, used + 3 * half
        rest = words[used + 1 : used + 4]
        rest = rest[1:] if rest[:1] == ["and"] else rest
        skipped = 1 if words[used + 1 : used + 2] == ["and"] else 0
        if factor == 60 and rest and re.fullmatch(r"\d{1,2}", rest[0]):
            if len(rest) > 1 and rest[1] in {"seconds", "second", "secs"}:
                return _Entity("d", f"{seconds + int(rest[0]):g}", start, start + used + 2 + skipped)
            if not skipped:
                return _Entity("d", f"{seconds + int(rest[0]):g}", start, start + used + 1)
        shown = f"{seconds:g}" if high is None else f"{seconds:g}..{high * factor:g}"
        return _Entity("d", shown, start, start + used)
    if unit in {"percent", "per"}:
        return _Entity("n", f"{value / 100:g}", start, start + used + (unit == "per"))
    return _Entity("n", text.replace(",", ".") if used == 1 else f"{value:g}", start, start + used - 1)


# -- statements --------------------------------------------------------------------------------------------------------


class _Listener:
    """Goes through a text once and says what is stated in it."""

    def __init__(
        self, text: _Text, table: Mapping[str, Any], named: Sequence[Mention], names: KnownNames, release: str,
        model: SlotModel | None = None,
    ) -> None:
        self.text, self.table, self.names, self.release = text, table, names, release
        self.rules = _compiled(table)
        self.plain = frozenset(table.get("plain", ()))
        self.named = {mention.first: mention for mention in named}
        self.slots = slots_of(text.tokens, model)
        self.system = self._find_system()
        if self.system is not None and not release:
            self.release = self.system[1]

    def statements(self) -> Iterator[Statement]:
        """All that is stated, in no order."""
        found: list[Statement] = []
        for rule in self.rules:
            for match in rule.pattern.finditer(self.text.line):
                found += self._of(rule, match)
        found += self._software()
        found += self._system()
        found += self._fronts()
        yield from self._once(found)

    def _of(self, rule: Rule, match: re.Match[str]) -> Iterator[Statement]:
        groups = match.groupdict()
        anchor = match.end("v") if groups.get("v") is not None else match.end()
        at = self.text.at(anchor)
        slot = self.slot_at(at)
        if rule.slots and slot not in rule.slots:
            return
        value = self._value(rule, match)
        if value is None:
            return
        if groups.get("t") is not None and rule.kind == "fact" and _NEGATED.search(self.text.before(match.start("t"), 3)):
            return
        clues = {rule.name, f"{rule.kind} in {slot}", *self._against(match.start(), match.end())} | ({"weak"} if rule.weak else set())
        yield Statement(
            at, rule.kind, rule.key, value, self._about(match.start(), match.end()), slot, 0.5,
            self.text.said(match.start(), match.end()), frozenset(clues),
        )  # fmt: skip

    def _value(self, rule: Rule, match: re.Match[str]) -> str | None:
        groups = match.groupdict()
        if groups.get("v") is not None:
            entity = self.text.entity(groups["v"])
            if entity is None:
                return None
            about = "~" if _ABOUT.search(self.text.before(match.start("v"), 2).strip()) and entity.kind in "sdn" else ""
            return f"{about}{entity.value}"
        if groups.get("ver") is not None:
            return self._version(groups["ver"])
        if groups.get("text") is not None:
            if groups["text"].split()[0] in self.plain:
                return None
            return self._in_words(groups["text"])
        if groups.get("year") is not None:
            year = "".join(entity.value for mark in groups["year"].split() if (entity := self.text.entity(mark)))
            return f"{groups['t']}{year}".strip()
        if groups.get("t") is not None:
            said = groups["t"]
            return str(self.table.get("values", {}).get(said, said))
        return rule.value or "-"

    def _in_words(self, said: str) -> str:
        """A text with its figures in the place of their marks."""
        pieces = [entity.value if (entity := self.text.entity(piece)) is not None else piece for piece in said.split()]
        return " ".join(pieces)

    def _version(self, marks: str) -> str:
        """A version from the numbers that are said of it one after the other."""
        numbers = [entity.value for mark in marks.split() if (entity := self.text.entity(mark)) is not None]
        if len(numbers) > 2 and all(len(each) == 1 for each in numbers) and "." not in "".join(numbers):
            return "".join(numbers)
        joined = ".".join(numbers)
        if re.fullmatch(r"[3-9]\d\d(?:\.\d+)?", joined):  # six eighteen, written as one number
            joined = f"{joined[0]}.{joined[1:]}"
        return joined

    # -- where, of whom, against ---------------------------------------------------------------------------------------

    def slot_at(self, at: float) -> str:
        """Where in the job a moment is."""
        return [slot for start, slot in self.slots if start <= at][-1] if self.slots else "before"

    def _against(self, start: int, end: int) -> set[str]:
        """What stands around a statement that speaks against it, by the name of its kind."""
        clues = set()
        index = self.text.piece_at(start)
        before, inside, after = self.text.before(start, 7), self.text.line[start:end], self.text.after(end, 6)
        clause_before = before.rpartition(" .")[2]
        clause_after = after.partition(" .")[0]
        for name, patterns in self.table.get("against", {}).items():
            for pattern in patterns:
                if re.search(rf"(?<!\w)(?:{pattern})(?!\w)", f"{clause_before} {inside} {clause_after}"):
                    clues.add(name)
                    break
        return clues if index >= 0 else clues

    def _about(self, start: int, end: int) -> str:
        """The release that it is said of: this, or another that is named around it."""
        before = self.text.before(start, 12).rpartition(" .")[2]
        if self.system is not None:
            named = re.findall(rf"(?<![\w§]){re.escape(self.system[0])} (§n\d+)", before)
            if named and (entity := self.text.entity(named[-1])) is not None and not self._is_this(entity.value):
                return f"{self.system[0]} {entity.value}"
        around = f"{before}{self.text.line[start:end]}{self.text.after(end, 4).partition(' .')[0]}"
        for pattern in self.table.get("others", ()):
            match = re.search(rf"(?<!\w)(?:{pattern.replace('(?p<', '(?P<')})(?!\w)", around)
            if match is None:
                continue
            version = match.groupdict().get("other")
            if version:
                entity = self.text.entity(version)
                said = entity.value if entity is not None else version
                if self._is_this(said) or not re.fullmatch(r"\d{1,2}(?:\.\d+)?", said):
                    continue
                return said
            return "before"
        return "this"

    def _is_this(self, version: str) -> bool:
        """Whether a number is the version that is reviewed, as far as it is said."""
        return version == self.release or self.release.startswith(f"{version}.") or version == f"{self.release}.0"

    # -- the system and its desktop ------------------------------------------------------------------------------------

    def _system(self) -> Iterator[Statement]:
        """The release itself, the desktop, and the versions that are said of them."""
        stop = self.plain
        line = self.text.line
        if self.system is not None:
            word, version, start, end = self.system
            yield self._stated(start, end, "fact", "version", version, {"system"})
        names: dict[str, int] = {}
        for match in re.finditer(r"(?<![\w§])([a-z]{4,}) desktop(?!\w)", line):
            if match[1] not in stop:
                names[match[1]] = names.get(match[1], 0) + 1
        for name in names:
            for match in re.finditer(
                rf"(?<![\w§]){re.escape(name)}(?:'s)?(?: (?:is|at|version|desktop|it's|now|in|the))* (?P<ver>§n\d+(?: (?:point |dot )?§n\d+){{0,2}})",
                line,
            ):
                yield self._stated(match.start(), match.end(), "fact", "desktop-version", self._version(match["ver"]), {"desktop-version"})
            for match in re.finditer(rf"(?<![\w§])(?:it's|with|with the|comes with|and it's|we have|on the|the|into) {re.escape(name)}(?:'s)?(?: desktop)?(?!\w)", line):
                if self.slot_at(self.text.at(match.end())) not in {"questions", "copy"}:
                    yield self._stated(match.start(), match.end(), "fact", "desktop", name, {"desktop-name"})

    def _fronts(self) -> Iterator[Statement]:
        """The screens that are in front when a part of the job begins."""
        for at, slot in self.slots[1:]:
            key = self.table.get("fronts", {}).get(slot)
            if key is not None:
                yield Statement(at + WINDOW / 2, "screen", key, "-", "this", slot, 0.5, "", frozenset({"weak", "part begins"}))

    def _stated(self, start: int, end: int, kind: str, key: str, value: str, clues: set[str]) -> Statement:
        at = self.text.at(end)
        clues |= {f"slot-{self.slot_at(at)}", *self._against(start, end)}
        return Statement(
            at, kind, key, value, self._about(start, end), self.slot_at(at), 0.5, self.text.said(start, end), frozenset(clues)
        )

    def _find_system(self) -> tuple[str, str, int, int] | None:
        """The name and version that the reviewer begins with: of a name that is said with a number, the most often."""
        stop = self.plain
        line = self.text.line
        begin = next((start for start, place in zip(self.text.starts, self.text.places, strict=True)
                      if self.text.tokens[place[0]].at > _OPENING), len(line))  # fmt: skip
        pairs = [match for match in re.finditer(r"(?<![\w§])([a-z]{4,}) (§n\d+(?: §n\d+)?)(?![\w§])", line) if match[1] not in stop]
        counts: dict[str, int] = {}
        for match in pairs:
            counts[match[1]] = counts.get(match[1], 0) + 1
        opening = [match for match in pairs if match.start() < begin]
        if not opening:
            return None
        opening = [match for match in opening if self._version(match[2].split()[0]) not in {"0", "1", "2"}] or opening
        best = next((match for match in opening if counts[match[1]] > 1), opening[0])
        return best[1], self._version(best[2].split()[0]), best.start(), best.end()

    # -- software ------------------------------------------------------------------------------------------------------

    def _software(self) -> Iterator[Statement]:
        for number, entity in enumerate(self.text.entities):
            if entity.kind != "p":
                continue
            mention = self.named[entity.first]
            mark = re.search(rf"§p{number}(?!\d)", self.text.line)
            if mark is None:
                continue
            at = self.text.at(mark.end())
            slot = self.slot_at(at)
            before = self.text.before(mark.start(), 6).rpartition(" .")[2]
            after = self.text.after(mark.end(), 6).partition(" .")[0]
            kind, clue = self._there(before, after, mention)
            version = self._version_after(mark.end())
            if version and mention.on_machine:
                yield Statement(
                    self.text.at(mark.end() + len(version[0])), "fact", "other", f"{mention.name} {version[1]}",
                    self._about(mark.start(), mark.end()), slot, 0.5,
                    self.text.said(mark.start(), mark.end() + len(version[0])), frozenset({"program-version", f"slot-{slot}"}),
                )  # fmt: skip
            if kind is None or (kind == "lacks" and mention.on_machine):
                continue
            clues = {f"{kind} {clue}", f"{kind} in {slot}", *self._against(mark.start(), mark.end())}
            clues |= {"on-machine"} if mention.on_machine else {"not-on-machine"}
            clues |= {"misheard"} if mention.score < 1 else set()
            yield Statement(
                at, kind, "-", mention.name, self._about(mark.start(), mark.end()), slot, 0.5,
                self.text.said(self.text.starts[max(self.text.piece_at(mark.start()) - 3, 0)], mark.end()), frozenset(clues),
            )  # fmt: skip

    def _version_after(self, offset: int) -> tuple[str, str] | None:
        """The version that is said right behind a name: what was said, and the version."""
        words = self.table.get("software", {}).get("version-words", [])
        joined = "|".join(words)
        match = re.match(rf"(?: \.)?(?: (?:{joined})){{0,4}} (?P<ver>§n\d+(?: (?:point |dot )?§n\d+){{0,3}})(?! (?:of|and a))",
                         self.text.line[offset : offset + 120])  # fmt: skip
        if match is None:
            return None
        version = self._version(match["ver"])
        return (match[0], version) if "." in version or len(version) > 1 else None

    def _there(self, before: str, after: str, mention: Mention) -> tuple[str | None, str]:
        """Whether a program is said to be on board or missing, and by which sign."""
        software = self.table.get("software", {})
        for name, patterns in software.get("lacks-before", {}).items():
            if any(re.search(rf"(?<!\w)(?:{pattern})$", before.strip()) for pattern in patterns):
                return "lacks", f"lacks-{name}"
        for name, patterns in software.get("lacks-after", {}).items():
            if any(re.match(rf"\s*(?:{pattern})(?!\w)", after) for pattern in patterns):
                return "lacks", f"lacks-{name}"
        for name, patterns in software.get("neither", {}).items():
            if any(re.search(rf"(?<!\w)(?:{pattern})(?!\w)", f"{before} § {after}") for pattern in patterns):
                return None, name
        return ("carries", "named") if mention.on_machine or not self.names.has_machine else (None, "not there")

    # -- the same said twice -------------------------------------------------------------------------------------------

    def _once(self, found: Sequence[Statement]) -> Iterator[Statement]:
        """Of statements of one thing within a few words the first rule that says it; of one program the first mention."""
        kept: list[Statement] = []
        for each in sorted(found, key=lambda each: ("weak" in each.clues, each.at)):
            same = [
                other for other in kept
                if (other.kind, other.key) == (each.kind, each.key) and (
                    (each.kind in {"carries", "lacks"} and other.value == each.value and other.about == each.about)
                    or (each.kind not in {"carries", "lacks"} and abs(other.at - each.at) < _NEAR.get(each.kind, 6.0)
                        and (other.value == each.value or each.kind in _SINGLE))
                )
            ]  # fmt: skip
            if not same:
                kept.append(each)
        yield from kept


_OPENING = 90.0  # seconds in which somebody says what it is about
_NEGATED = re.compile(r"(?:^| )(?:no|not|isn't|isn't a|never|without|than|instead of|not even)(?: any| a| the| with)? $")
_NEAR = {"screen": 60.0, "issue": 12.0, "check": 20.0, "todo": 10.0, "wish": 10.0, "choose": 12.0, "keep": 12.0, "verdict": 6.0}
_SINGLE = frozenset({"screen", "issue", "check", "todo", "wish"})
