"""Takes apart what stands after a verb or a field's key, by its shape, and checks it by rule."""

from __future__ import annotations

import re
from collections.abc import Callable

from metrograph.log.escapes import decode
from metrograph.log.faults import Unreadable, suggest
from metrograph.log.lexicon import Kind, Lexicon
from metrograph.log.verbs import VERBS, Content, Rule, Shape, Verb, fields_of

# Compiled when first wanted: only what every log needs is worth the time of every cue.
_NAME = r"[a-z0-9]+(?:-[a-z0-9]+)*"
_NAMED = rf"(?s:({_NAME}):(?:\s+|\Z)(.*))"
_KEYED = r"(?s:([^:=\\]{1,80}):\s+(.*))"
_GROUP = r"(?s:([^,:\\]{1,60}):(?:\s+|\Z)(.*))"
DATED = r"[0-9]{4}-[0-9]{2}(?:-[0-9]{2})?"
"""A day or a month, in the place of a time."""
_OWN_FIELD = r"x-[A-Za-z0-9_-]+"
Terms = Callable[[], Lexicon]
"""Gives what screens are for and what can be read; asked only when a cue says either."""


class _All(dict[str, Kind]):
    """A set of words that has every word there is."""

    def __contains__(self, _word: object) -> bool:
        return True


_ANY = Lexicon(kinds=_All())


def any_terms() -> Lexicon:
    """Takes any word for a kind and any unit, for those who only need the times and verbs of a log."""
    return _ANY


def name_of(text: str) -> str:
    """The name that words stand for: ``Disk hidden`` is ``disk-hidden``; empty where there are none."""
    return "-".join(re.findall(r"[^\W_]+", text.casefold()))


def compared(text: str) -> tuple[str, str] | None:
    """The thing of which releases are compared, and how they do: “memory less”; None where that was not said."""
    thing, _, way = text.strip().rpartition(" ")
    return (thing.strip(), way) if thing and way in COMPARED else None


COMPARED = ("same", "less", "more", "better", "worse")
"""How the release of a run stands beside another, in words."""


def find_verb(word: str, verbs: dict[str, Verb], shortened: bool = False) -> Verb:
    """The verb of this word, or, where shortening is allowed, the only one that begins with it."""
    if word in verbs:
        return verbs[word]
    begun = [verb for name, verb in verbs.items() if name.startswith(word)] if shortened else []
    if len(begun) == 1:
        return begun[0]
    if begun:
        raise Unreadable(f"“{word}” could be several verbs", word, " or ".join(verb.word for verb in begun))
    raise no_verb(word)


def no_verb(word: str) -> Unreadable:
    """What is said of a word that is no verb."""
    from metrograph.log.meant import verbs_meant  # wanted only where somebody has mistyped

    return Unreadable(f"there is no verb “{word}”", word, verbs_meant(word))


def verb_word(word: str) -> str:
    """A verb that came from elsewhere, where it is one; raises Unreadable."""
    return find_verb(word, VERBS).word


def parse_body(verb: Verb, raw: str, terms: Terms) -> tuple[str | None, str]:
    """Name and text of a body as it is written, white space at its ends taken off; raises Unreadable."""
    shape, check = _BODIES[verb.word]
    name, text = shape(verb, raw)
    if check is not None:
        text = verb.rule.alike.get(text.casefold(), text) or verb.rule.without
        check(verb.rule, name or "", text, terms)
    return name, text


def parse_field(verb: Verb, key: str, raw: str, terms: Terms) -> str:
    """The value of a field as it is written; raises Unreadable."""
    row = _FIELDS[verb.word].get(key)
    value = decode(raw) if "\\" in raw else raw
    if row is None:
        if not re.fullmatch(_OWN_FIELD, key):
            known = suggest(key, verb.fields) or "no field but those of your own, which begin with x-"
            raise Unreadable(f"“{verb.word}” has no field “{key}”", key, known)
    elif not value and row[0].without:
        return row[0].without
    elif not value:
        raise Unreadable(f"the field “{key}” is empty", key, row[0].check.value)
    elif row[1] is not None:
        row[1](row[0], "", value, terms)
        return name_of(value) if row[0].check is Content.NAME else value
    return value


def may_repeat(verb: Verb, key: str) -> bool:
    """Whether a field may stand several times in one cue."""
    rule = verb.fields.get(key)
    return rule is None or rule.many


def _needs_more(verb: Verb) -> Unreadable:
    return Unreadable(f"“{verb.word}” needs more", expected=f"something like “{verb.example}”")


def _nothing(verb: Verb, raw: str) -> tuple[None, str]:
    if raw:
        raise Unreadable(f"“{verb.word}” takes nothing after it", raw, "the end of the line")
    return None, ""


def _text(verb: Verb, raw: str) -> tuple[None, str]:
    if not raw:
        raise _needs_more(verb)
    return None, decode(raw)


def _maybe_text(_verb: Verb, raw: str) -> tuple[None, str]:
    return None, decode(raw)


def _maybe_setting(verb: Verb, raw: str) -> tuple[str, str]:
    key, equals, value = raw.partition("=")
    if not equals and (named := re.fullmatch(_KEYED, raw)):
        key, value = named.groups()  # a colon means the same, where nothing else can be meant
    key, value = key.strip(), value.strip()
    if "\\" in raw:
        key, value = decode(key), decode(value)
    if not key:
        raise _needs_more(verb)
    return key, value


def _setting(verb: Verb, raw: str) -> tuple[str, str]:
    setting = _maybe_setting(verb, raw)
    if not setting[1]:
        raise Unreadable(f"“{verb.word}” needs a key and a value", raw, f"key = value, something like “{verb.example}”")
    return setting


def _maybe_named(verb: Verb, raw: str) -> tuple[str | None, str]:
    match = re.fullmatch(_NAMED, raw)
    name, text = (match[1], match[2]) if match else (None, raw)
    if not text:
        raise _needs_more(verb)
    return name, decode(text)


def _maybe_told(verb: Verb, raw: str) -> tuple[str, str]:
    """A name that a person may say with blanks and capitals, and perhaps more after it."""
    words, _, text = raw.partition(":")
    name = name_of(words)
    if not name:
        raise Unreadable(f"“{verb.word}” needs a name", words, f"something like “{verb.example}”")
    return name, decode(text.strip())


def _told(verb: Verb, raw: str) -> tuple[str, str]:
    name, text = _maybe_told(verb, raw)
    if not text:
        raise Unreadable(f"“{verb.word}” needs a name, a colon and a text", raw, f"something like “{verb.example}”")
    return name, text


def _grouped(verb: Verb, raw: str) -> tuple[str | None, str]:
    match = re.fullmatch(_GROUP, raw)
    group, items = (match[1].strip(), match[2]) if match else (None, raw)
    if not items.strip(" ,"):
        raise _needs_more(verb)
    return group, decode(items)


def _named(verb: Verb, raw: str) -> tuple[str, str]:
    name, _, text = raw.rpartition(":")
    if not name:
        name, _, text = raw.rpartition("=")  # it means the same, where nothing else can be meant
    name, text = name.strip(), text.strip()
    if not (name and text):
        raise Unreadable(f"“{verb.word}” needs a name, a colon and a text", raw, f"something like “{verb.example}”")
    return decode(name), decode(text)


def _beside(verb: Verb, raw: str) -> tuple[str, str]:
    """The name of a release as it stands, dots and all, and what is said of it."""
    name, _, text = raw.partition(":")
    if not name.strip():
        raise _needs_more(verb)
    return decode(name.strip()), decode(text.strip())


_SHAPES: dict[Shape, Callable[[Verb, str], tuple[str | None, str]]] = {
    Shape.NOTHING: _nothing,
    Shape.TEXT: _text,
    Shape.MAYBE_TEXT: _maybe_text,
    Shape.SETTING: _setting,
    Shape.MAYBE_SETTING: _maybe_setting,
    Shape.MAYBE_NAMED: _maybe_named,
    Shape.NAMED: _named,
    Shape.MAYBE_TOLD: _maybe_told,
    Shape.TOLD: _told,
    Shape.GROUPED: _grouped,
    Shape.BESIDE: _beside,
}
Check = Callable[[Rule, str, str, Terms], None]
"""Raises Unreadable where a text is not what a rule says; it is also given the name beside it, and what there is."""


def _one_of(rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    if text not in rule.words:
        raise Unreadable(f"“{text}” cannot stand here", text, suggest(text, rule.words))


def _kind(_rule: Rule, _name: str, text: str, terms: Terms) -> None:
    known = terms().kinds
    if text not in known:
        raise Unreadable(f"there is no kind of screen “{text}”", text, suggest(text, known))


def _quantity(_rule: Rule, name: str, text: str, terms: Terms) -> None:
    """A known figure takes its own unit only; one of a person's own takes any."""
    from metrograph.log.quantities.quantity import parse_quantity

    measure = terms().measures.get(name)
    parse_quantity(text, None if measure is None else measure.unit, name)


def _length(_rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    from metrograph.log.quantities.quantity import parse_length

    parse_length(text)


def _rating(rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    from metrograph.log.quantities.ratings import parse_rating

    if parse_rating(text) is None:
        raise Unreadable(f"“{text}” cannot be read here", text, rule.check.value)


def _compared(rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    if compared(text) is None:
        raise Unreadable(f"“{text}” does not say how they compare", text, rule.check.value)


def _but(rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    if text and not text.startswith("but "):
        raise Unreadable(f"“{text}” cannot stand here", text, rule.check.value)


def _data(rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    from metrograph.log.quantities.quantity import parse_quantity
    from metrograph.log.quantities.units import BYTES

    if parse_quantity(text, BYTES).amount is None:
        raise Unreadable(f"“{text}” cannot be read here", text, rule.check.value)


def _size(_rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    from metrograph.log.quantities.quantity import parse_exact
    from metrograph.log.quantities.units import BYTES

    parse_exact(text, BYTES)


def _part(_rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    from metrograph.log.quantities.disk_parts import parse_part

    parse_part(text)


def _swap(_rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    from metrograph.log.quantities.disk_parts import parse_swap

    parse_swap(text)


def _name(rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    if not name_of(text):
        raise Unreadable(f"“{text}” cannot be read here", text, rule.check.value)


def _sha256(rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    if not re.fullmatch(r"[0-9a-fA-F]{64}", text):
        raise Unreadable(f"“{text}” cannot be read here", text, rule.check.value)


def _day(rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    from metrograph.log.quantities.times import is_day

    if not (re.fullmatch(DATED, text) and is_day(text)):
        raise Unreadable(f"“{text}” is no day", text, rule.check.value)


def _chance(rule: Rule, _name: str, text: str, _terms: Terms) -> None:
    if not re.fullmatch(r"0|1|0?\.[0-9]{1,3}|1\.0{1,3}", text):
        raise Unreadable(f"“{text}” cannot be read here", text, rule.check.value)


_CHECKS: dict[Content, Check] = {
    Content.ONE_OF: _one_of,
    Content.KIND: _kind,
    Content.NAME: _name,
    Content.SIZE: _size,
    Content.DATA: _data,
    Content.PART: _part,
    Content.SWAP: _swap,
    Content.QUANTITY: _quantity,
    Content.RATING: _rating,
    Content.COMPARED: _compared,
    Content.BUT: _but,
    Content.LENGTH: _length,
    Content.CHANCE: _chance,
    Content.SHA256: _sha256,
    Content.DAY: _day,
}

# Looked up once: a log of a hundred thousand cues asks for these as often.
_BODIES = {word: (_SHAPES[verb.shape], _CHECKS.get(verb.rule.check)) for word, verb in VERBS.items()}
_FIELDS = {
    word: {key: (rule, _CHECKS.get(rule.check)) for key, rule in fields_of(verb).items()}
    for word, verb in VERBS.items()
}
