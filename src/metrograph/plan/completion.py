"""Completes what is typed in the language of the run log, from its words and from what was noted earlier."""

from __future__ import annotations

import re
from collections.abc import Collection, Iterable, Mapping, Sequence

import msgspec

from metrograph.log.bodies import any_terms, find_verb
from metrograph.log.cues import Cue, Log
from metrograph.log.escapes import encode, split_bars, split_list
from metrograph.log.faults import Unreadable
from metrograph.log.lexicon import Lexicon
from metrograph.log.quantities.times import LEADING_TIME
from metrograph.log.reader import parse_line
from metrograph.log.verbs import PHASES, VERBS, Content, Rule, Shape, Trait, Verb

MOST = 8
"""The most completions that are given."""
_WORD = re.compile(r"[^\W_]{4,}(?:['-][^\W_]+)*")
_BEGUN = re.compile(r"[^\W_]{2,}(?:['-][^\W_]+)*\Z")

_SETTINGS = frozenset({Shape.SETTING, Shape.MAYBE_SETTING})
Known = Mapping[tuple[str, ...], Collection[str]]


class Completion(msgspec.Struct, frozen=True):
    """One way to go on. text: what is to stand in the line from ``start`` to the cursor."""

    start: int
    text: str


class Vocabulary(msgspec.Struct, frozen=True):
    """The words of earlier logs by what they belong to, the most relevant first.

    known: by what it is a value of: ``(verb,)`` for titles and other texts, ``("=",)`` for keys of choices and
        ``("=", key)`` for their values, ``(verb, "")`` for names, ``(verb, name)`` for what stood after a name, and
        ``(verb, name, field)`` or ``(verb, "", field)`` for fields.
    kinds: all kinds of screen.
    words: all words of four letters or more, the latest of the first log first.
    """

    known: Known = {}
    kinds: tuple[str, ...] = ()
    words: tuple[str, ...] = ()

    def of(self, *subject: str) -> Collection[str]:
        """The values that earlier runs have for a subject, such as the answers to one question."""
        return self.known.get(subject, ())


def vocabulary_of(logs: Iterable[Log], lexicon: Lexicon) -> Vocabulary:
    """What these logs say, the most relevant first, but no answer that tells who or where: screens are filmed."""
    known: dict[tuple[str, ...], dict[str, None]] = {}
    words: dict[str, None] = {}
    for log in logs:
        # Dictionaries keep what came first, so the latest of the most relevant log is offered first.
        for cue in reversed(log.cues):
            if cue.name is not None and lexicon.is_personal(cue.name):
                cue = Cue(cue.at, cue.verb, cue.name, "")  # noqa: PLW2901 - the question is offered, and no answer
            for subject, value in _said(cue):
                if value:
                    known.setdefault(subject, {})[value] = None
            texts = (cue.name or "", cue.text, *(value for _, value in cue.fields))
            words |= dict.fromkeys(word for text in texts for word in _WORD.findall(text) if word not in words)
    return Vocabulary(known, tuple(lexicon.kinds), tuple(words))


def complete(line: str, vocabulary: Vocabulary, likely: Sequence[str] = ()) -> tuple[Completion, ...]:
    """The ways to go on after a line, at most ``MOST``; those that are likely here come first.

    Where nothing that was pairs earlier fits as a whole, the word that was begun is completed, and after a whole word
    the fields that may follow are offered.

    line: what stands before the cursor; a time may stand in front of its verb.
    likely: titles and keys.
    """
    return _complete_whole(line, vocabulary, likely) or _complete_word(line, vocabulary) or _begin_field(line)


def _complete_word(line: str, vocabulary: Vocabulary) -> tuple[Completion, ...]:
    """Words that go on from the letters at the end, which keep their capitals."""
    begun = _BEGUN.search(line)
    if begun is None or not line[: begun.start()].strip():
        return ()
    # Compared in small letters, and put together from what was typed, so that capitals stay as they are.
    letters = begun[0].casefold()
    ways = dict.fromkeys(
        begun[0] + word[len(letters) :] for word in vocabulary.words if word.casefold().startswith(letters)
    )
    return tuple(Completion(begun.start(), f"{word} ") for word in ways if len(word) > len(letters) + 1)[:MOST]


def _begin_field(line: str) -> tuple[Completion, ...]:
    """The fields that a cue may still have, each with the bar in front of it."""
    try:
        cue = parse_line(LEADING_TIME.sub("", line), any_terms)
    except Unreadable:
        return ()
    free = (key for key, rule in VERBS[cue.verb].fields.items() if rule.many or cue.field(key) is None)
    return tuple(Completion(len(line.rstrip()), f" | {key} ") for key in free)


def _complete_whole(line: str, vocabulary: Vocabulary, likely: Sequence[str]) -> tuple[Completion, ...]:
    time = LEADING_TIME.match(line)
    offset = time.end() if time else 0
    (_, body), *bars = split_bars(line[offset:])
    word, blank, rest = body.lstrip().partition(" ")
    if not blank and not bars:
        return _choose(len(line) - len(word), word, (f"{verb} " for verb in VERBS), ())
    try:
        verb = find_verb(word, VERBS, shortened=True)
    except Unreadable:
        return ()
    if bars:
        return _complete_field(len(line), verb, rest.strip(), [part for _, part in bars], vocabulary)
    return _complete_body(len(line), verb, rest.lstrip(), vocabulary, likely)


def _said(cue: Cue) -> list[tuple[tuple[str, ...], str]]:
    """What one cue adds: subjects with a value each."""
    name = cue.name or ""
    # All three verbs that answer share one store of keys and values: what was kept last time may be typed now.
    is_setting = VERBS[cue.verb].shape in _SETTINGS and Trait.MEASURED not in VERBS[cue.verb].traits
    subject = "=" if is_setting else cue.verb
    pairs = [((subject,), name if is_setting else cue.text), ((subject, name), cue.text), ((cue.verb, ""), name)]
    for key, value in cue.fields:
        pairs += [((cue.verb, name, key), value), ((cue.verb, "", key), value)]
        if key == "was":
            pairs.append((("=", name), value))
        elif key == "offered":
            pairs += [(("=", name), item) for item in split_list(value)]
    return pairs


def _complete_body(
    end: int, verb: Verb, rest: str, vocabulary: Vocabulary, likely: Sequence[str]
) -> tuple[Completion, ...]:
    """Completions after a verb."""
    if verb.shape in _SETTINGS:
        return _complete_setting(end, verb, rest, vocabulary, likely)
    name, colon, text = rest.partition(":")
    if verb.shape in {Shape.NAMED, Shape.MAYBE_TOLD, Shape.TOLD, Shape.BESIDE}:
        if colon:
            typed = text.lstrip()
            return _choose(end - len(typed), typed, [*verb.rule.words, *vocabulary.of(verb.word, name)], ())
        # Only what is known to be wrong can be fixed.
        names = vocabulary.of(verb.names or verb.word, "")
        return _choose(end - len(rest), rest, (f"{encode(known)}: " for known in names), ())
    texts = [*verb.rule.words, *map(encode, vocabulary.of(verb.word))]
    if verb.shape is Shape.MAYBE_NAMED:
        named = ((issue, vocabulary.of(verb.word, issue)) for issue in vocabulary.of(verb.word, ""))
        issues = [(issue, encode(next(iter(summaries)))) for issue, summaries in named if summaries]
        # The names first; once one stands there, how it was worded before.
        texts = [f"{issue}: " for issue, _ in issues] + [f"{issue}: {summary}" for issue, summary in issues]
    elif verb.shape is Shape.GROUPED:
        texts = [f"{encode(group)}: " for group in vocabulary.of(verb.word, "") if group] + texts
    elif verb.word == "phase":
        texts += PHASES
    return _choose(end - len(rest), rest, texts, likely)


def _complete_setting(
    end: int, verb: Verb, rest: str, vocabulary: Vocabulary, likely: Sequence[str]
) -> tuple[Completion, ...]:
    key, equals, value = rest.partition("=")
    is_choice = Trait.MEASURED not in verb.traits
    if not equals:
        names = vocabulary.of("=") if is_choice else vocabulary.of(verb.word, "")
        if Trait.CHOICE in verb.traits:  # what was only ever typed, such as a password, is no choice
            picked = {*vocabulary.of("keep", ""), *vocabulary.of("choose", "")}
            names = [name for name in names if name in picked or name not in vocabulary.of("enter", "")]
        # A typed answer is noted by its key alone as often as with its value.
        sign = "" if verb.shape is Shape.MAYBE_SETTING else " = "
        keys = (encode(name) + sign for name in names)
        return _choose(end - len(rest), rest, keys, [f"{key}{sign}" for key in likely])
    typed = value.lstrip()
    values = vocabulary.of("=" if is_choice else verb.word, key.strip())
    # A figure of last time must never be taken for one of today.
    return _choose(end - len(typed), typed, map(encode, values), ()) if verb.word != "reading" else ()


def _complete_field(
    end: int, verb: Verb, rest: str, parts: Sequence[str], vocabulary: Vocabulary
) -> tuple[Completion, ...]:
    """Completions after the last bar."""
    key, blank, value = parts[-1].lstrip().partition(" ")
    if not blank:
        used = {part.split(maxsplit=1)[0] for part in parts[:-1] if part.strip()}
        free = (f"{field} " for field, rule in verb.fields.items() if rule.many or field not in used)
        return _choose(end - len(key), key, free, ())
    typed, rule = value.lstrip(), verb.fields.get(key, Rule())
    name = rest.partition("=")[0].partition(":")[0].strip()
    values = dict.fromkeys([*vocabulary.of(verb.word, name, key), *rule.words])
    if rule.check is Content.KIND:
        values |= dict.fromkeys(vocabulary.kinds)
    elif key == "was":
        values |= dict.fromkeys(vocabulary.of("=", name))
    elif rule.check is not Content.ONE_OF:
        values |= dict.fromkeys(vocabulary.of(verb.word, "", key))
    return _choose(end - len(typed), typed, map(encode, values), ())


def _choose(start: int, typed: str, candidates: Iterable[str], likely: Sequence[str]) -> tuple[Completion, ...]:
    """The candidates that begin with what was typed, then those with a word in them that does; likely ones first."""
    begun = typed.casefold()
    places = {text: place for place, text in enumerate(likely)}
    ranked: list[tuple[bool, int, int, str]] = []
    for text in dict.fromkeys(candidates):
        plain = text.casefold()
        if plain.startswith(begun) or f" {begun}" in plain:
            # The count of those before it keeps equals in the order they came.
            ranked.append((not plain.startswith(begun), places.get(text, len(places)), len(ranked), text))
    return tuple(Completion(start, text) for *_, text in sorted(ranked)[:MOST] if text.rstrip() != typed.rstrip())
