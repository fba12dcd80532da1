"""What stands behind a verb or a field's key: taken apart by shape, checked by rule, or refused."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection

from metrograph.language.escapes import decode
from metrograph.language.faults import Unreadable
from metrograph.language.secrets import is_secret, refuse_secret
from metrograph.language.sizes import EXPECTED_SIZE, parse_size
from metrograph.language.suggest import suggest
from metrograph.language.times import parse_cut
from metrograph.language.values import parse_number, parse_part, parse_swap
from metrograph.model.lexicon import load_lexicon
from metrograph.model.verbs import VERBS, Check, Rule, Shape, Verb

# Compiled when first wanted: only what every log needs is worth the time of every cue.
_NAME = r"[a-z0-9]+(?:-[a-z0-9]+)*"
_NAMED = rf"(?s:({_NAME}):(?:\s+|\Z)(.*))"
_OWN_FIELD = r"x-[A-Za-z0-9_-]+"
Kinds = Callable[[], Collection[str]]


def known_kinds() -> Collection[str]:
    """The kinds of screen that come with the program; a logbook may know more."""
    return load_lexicon().kinds


class _All(frozenset[str]):
    """Every word there is."""

    def __contains__(self, _word: object) -> bool:
        return True


def any_kind() -> Collection[str]:
    """Takes any word for a kind, for those who only need the times and verbs of a log."""
    return _All()


def find_verb(word: str, verbs: dict[str, Verb], shortened: bool = False) -> Verb:
    """The verb of this word, or, where shortening is allowed, the only one that begins with it."""
    if word in verbs:
        return verbs[word]
    begun = [verb for name, verb in verbs.items() if name.startswith(word)] if shortened else []
    if len(begun) == 1:
        return begun[0]
    if begun:
        raise Unreadable(f"“{word}” could be several verbs", word, " or ".join(verb.word for verb in begun))
    raise Unreadable(f"there is no verb “{word}”", word, suggest(word, verbs))


def parse_body(verb: Verb, raw: str, kinds: Kinds) -> tuple[str | None, str]:
    """Name and text of a body as it is written, white space at its ends taken off; raises Unreadable."""
    shape, check = _BODIES[verb.word]
    name, text = shape(verb, raw)
    if check is not None:
        check(verb.rule, text, kinds)
    return name, text


def parse_field(verb: Verb, key: str, raw: str, kinds: Kinds) -> str:
    """The value of a field as it is written; raises Unreadable."""
    row = _FIELDS[verb.word].get(key)
    value = decode(raw) if "\\" in raw else raw
    if row is None:
        if not re.fullmatch(_OWN_FIELD, key):
            known = suggest(key, verb.fields) or "no field but those of your own, which begin with x-"
            raise Unreadable(f"“{verb.word}” has no field “{key}”", key, known)
    elif not value:
        raise Unreadable(f"the field “{key}” is empty", key, row[0].check.value)
    elif row[1] is not None:
        row[1](row[0], value, kinds)
    return value


def may_repeat(verb: Verb, key: str) -> bool:
    """Whether a field may stand several times in one cue."""
    rule = verb.fields.get(key)
    return rule is None or rule.many


def _needs_more(verb: Verb) -> Unreadable:
    return Unreadable(f"“{verb.word}” needs more", expected=f"something like “{verb.example}”")


def _nothing(verb: Verb, raw: str) -> tuple[None, str]:
    if raw:
        raise Unreadable(f"“{verb.word}” takes nothing behind it", raw, "the end of the line")
    return None, ""


def _text(verb: Verb, raw: str) -> tuple[None, str]:
    if not raw:
        raise _needs_more(verb)
    return None, decode(raw)


def _maybe_text(_verb: Verb, raw: str) -> tuple[None, str]:
    return None, decode(raw)


def _maybe_setting(verb: Verb, raw: str) -> tuple[str, str]:
    key, _, value = raw.partition("=")
    key, value = key.strip(), value.strip()
    if "\\" in raw:
        key, value = decode(key), decode(value)
    if not key:
        raise _needs_more(verb)
    if is_secret(key):
        refuse_secret(key, value)
    return key, value


def _setting(verb: Verb, raw: str) -> tuple[str, str]:
    setting = _maybe_setting(verb, raw)
    if not setting[1]:
        raise Unreadable(f"“{verb.word}” needs a key and a value", raw, f"key = value, something like “{verb.example}”")
    return setting


def _maybe_named(verb: Verb, raw: str) -> tuple[str | None, str]:
    found = re.fullmatch(_NAMED, raw)
    name, text = (found[1], found[2]) if found else (None, raw)
    if not text:
        raise _needs_more(verb)
    return name, decode(text)


def _maybe_told(verb: Verb, raw: str) -> tuple[str, str]:
    name, _, text = raw.partition(":")
    if not re.fullmatch(_NAME, name):
        raise Unreadable(f"“{verb.word}” needs the name of an issue", name, f"something like “{verb.example}”")
    return name, decode(text.strip())


def _named(verb: Verb, raw: str) -> tuple[str, str]:
    name, _, text = raw.rpartition(":")
    name, text = name.strip(), text.strip()
    if not (name and text):
        raise Unreadable(f"“{verb.word}” needs a name, a colon and a text", raw, f"something like “{verb.example}”")
    return decode(name), decode(text)


_SHAPES: dict[Shape, Callable[[Verb, str], tuple[str | None, str]]] = {
    Shape.NOTHING: _nothing,
    Shape.TEXT: _text,
    Shape.MAYBE_TEXT: _maybe_text,
    Shape.SETTING: _setting,
    Shape.MAYBE_SETTING: _maybe_setting,
    Shape.MAYBE_NAMED: _maybe_named,
    Shape.NAMED: _named,
    Shape.MAYBE_TOLD: _maybe_told,
}


def _one_of(rule: Rule, text: str, _kinds: Kinds) -> None:
    if text not in rule.words:
        raise Unreadable(f"“{text}” cannot stand here", text, suggest(text, rule.words))


def _kind(_rule: Rule, text: str, kinds: Kinds) -> None:
    known = kinds()
    if text not in known:
        raise Unreadable(f"there is no kind of screen “{text}”", text, suggest(text, known))


def _size(_rule: Rule, text: str, _kinds: Kinds) -> None:
    if parse_size(text) is None:
        raise Unreadable(f"“{text}” is not a size", text, EXPECTED_SIZE)


def _readable(parse: Callable[[str], object]) -> Callable[[Rule, str, Kinds], None]:
    def check(rule: Rule, text: str, _kinds: Kinds) -> None:
        if parse(text) is None:
            raise Unreadable(f"“{text}” cannot be read here", text, rule.check.value)

    return check


_CHECKS: dict[Check, Callable[[Rule, str, Kinds], None]] = {
    Check.ONE_OF: _one_of,
    Check.KIND: _kind,
    Check.SIZE: _size,
    Check.NAME: _readable(lambda text: re.fullmatch(_NAME, text)),
    Check.PART: _readable(parse_part),
    Check.SWAP: _readable(parse_swap),
    Check.NUMBER: _readable(parse_number),
    Check.CUT: _readable(parse_cut),
    Check.SHA256: _readable(lambda text: re.fullmatch(r"[0-9a-fA-F]{64}", text)),
}

# Looked up once: a log of a hundred thousand cues asks for these as often.
_BODIES = {word: (_SHAPES[verb.shape], _CHECKS.get(verb.rule.check)) for word, verb in VERBS.items()}
_FIELDS = {
    word: {key: (rule, _CHECKS.get(rule.check)) for key, rule in verb.fields.items()} for word, verb in VERBS.items()
}
