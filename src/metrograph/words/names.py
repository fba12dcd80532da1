"""Human names for releases and runs: “Larkmoor Heron 9.0 beta” where one stands alone, “9.0 beta” beside others."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import TypeVar

from metrograph.core.visitor import map_texts
from metrograph.run.cards import Parts, Release, parts_of, parts_of_id
from metrograph.store.ids import split_run

T = TypeVar("T")


def named(record: T, names: Mapping[str, str]) -> T:
    """The record with human names in the place of ids, wherever one stands by itself."""
    return map_texts(record, lambda text: names.get(text, text))


def on_rig(rig: str) -> str:
    """A rig in a sentence: an id stands by itself, and what people call it has an article."""
    return f"the {rig}" if " " in rig else rig


def full_name(release: str, card: Release | None = None) -> str:
    """What a release is called where it stands alone; its id where nothing tells more."""
    parts = parts_of(release, card)
    return _joined(parts.distribution, parts.edition, _version(parts)) or release


def names_of(ids: Sequence[str], cards: Mapping[str, Release], runs: Iterable[str] = ()) -> tuple[str, dict[str, str]]:
    """What all of some releases, or runs, have in common, and what is left of each of their names beside the others.

    ids: of what stands side by side, releases or runs.
    runs: more runs that may be named, of these releases.

    Where two would go by one name, all keep their ids.
    """
    releases = list(dict.fromkeys(_release_of(each, cards) for each in ids))
    parts = {release: parts_of(release, cards.get(release)) for release in releases}
    distributions, editions = ({getattr(each, key) for each in parts.values()} for key in ("distribution", "edition"))
    common = _joined(*(next(iter(each)) for each in (distributions, editions) if len(each) == 1))
    apart = len(distributions) > 1, len(editions) > 1
    short = {release: _beside(each, *apart) for release, each in parts.items()}
    if len(set(short.values())) < len(short) or not all(short.values()):
        return "", {}
    every = (*ids, *runs)
    return common, short | {each: _run_name(each, short) for each in every if each not in short}


def _beside(parts: Parts, distribution: bool, edition: bool) -> str:
    """What tells a release apart from others, whose distribution or edition may be another."""
    if distribution:
        return _joined(parts.distribution, parts.edition if edition else "", _version(parts))
    return _joined(parts.edition if edition else "", _version(parts))


def _release_of(name: str, cards: Mapping[str, Release]) -> str:
    release, number = split_run(name)
    return release if number and name not in cards and (release in cards or parts_of_id(release).version) else name


def _run_name(run: str, releases: Mapping[str, str]) -> str:
    release, number = split_run(run)
    return f"{releases[release]}, run {number}" if number and release in releases else run


def _version(parts: Parts) -> str:
    return _joined(parts.version, "" if parts.status in {"", "stable"} else parts.status)


def _joined(*words: str) -> str:
    return " ".join(word for word in words if word)
