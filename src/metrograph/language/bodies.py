"""What stands behind a verb or a field's key: taken apart by shape, checked by rule, or refused."""

from __future__ import annotations

import re
from collections.abc import Callable, Collection
from functools import lru_cache

from metrograph.language.escapes import decode
from metrograph.language.faults import Unreadable
from metrograph.language.sizes import EXPECTED_SIZE, parse_size
from metrograph.language.suggest import suggest
from metrograph.language.times import parse_cut
from metrograph.model.layouts import Part, Swap
from metrograph.model.lexicon import load_lexicon
from metrograph.model.verbs import VERBS, Check, Rule, Shape, Verb

# Compiled when first wanted: only what every log needs is worth the time of every cue.
_NAME = r"[a-z0-9]+(?:-[a-z0-9]+)*"
_NAMED = rf"(?s:({_NAME}):(?:\s+|\Z)(.*))"
_NUMBER = r"([+-]?[0-9]{1,18}(?:\.[0-9]{1,9})?)(?:\s*(\S.*))?"
_OWN_FIELD = r"x-[A-Za-z0-9_-]+"
_NEVER_KEPT = (
    r"(?i)pass[ _-]?(?:word|phrase|code|key)|\b(?:pin|secret|token|credentials?)\b"
    r"|\b(?:recovery|encryption|private|network|wireless|wpa|security|access)[ _-]?key\b"
)
_NOT_SECRET = frozenset(
    {"", "yes", "no", "on", "off", "none", "asked", "empty", "set", "not set", "optional", "required"}
)
_BEHIND_SECRET = frozenset(
    {"again", "twice", "repeated", "confirmation", "confirmed", "hint", "strength", "check", "code", "required"}
)

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


def parse_number(text: str) -> tuple[float, str] | None:
    """A number and its unit (empty when it has none); None when it does not begin with a number."""
    found = re.fullmatch(_NUMBER, text)
    return (float(found[1]), found[2] or "") if found else None


def parse_part(text: str) -> Part | None:
    """A partition: mount point, file system and size (``/boot/efi fat32 300 MiB``); None when it has another form."""
    words = text.split(maxsplit=2)
    size = parse_size(words[2]) if len(words) == 3 else None
    return None if size is None else Part(mount=words[0], filesystem=words[1], size=size)


def parse_swap(text: str) -> Swap | None:
    """Swap: ``none``, ``file 2 GiB``, ``partition 4 GiB``, the same without a size; None when it has another form."""
    how, _, rest = text.partition(" ")
    size = parse_size(rest) if rest else None
    if how not in {"none", "file", "partition"} or (rest and size is None) or (how == "none" and rest):
        return None
    return Swap(how=how, size=size)


@lru_cache(4096)  # the keys of choices are few, and each comes up in every run
def is_secret(key: str) -> bool:
    """Whether a value of this key must never be written down."""
    return re.search(_NEVER_KEPT, key) is not None


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
        _refuse_secret(key, value)
    return key, value


def _refuse_secret(key: str, value: str) -> None:
    """Raises Unreadable when a secret was typed, behind an equals sign or without one."""
    found = re.search(_NEVER_KEPT, key)
    name, rest = (key[: found.end()], key[found.end() :]) if found else (key, "")
    is_value = value.lower() not in _NOT_SECRET or not _BEHIND_SECRET.issuperset(rest.lower().replace("-", " ").split())
    if is_value:
        # What stood there is left out on purpose: a fault is shown and may be published.
        raise Unreadable(
            f"the value of “{name}” is a secret and is never kept", expected=f"the key alone: enter {name}"
        )


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
