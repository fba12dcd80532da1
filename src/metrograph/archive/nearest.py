"""Finds the nearest installers among all of an archive: candidates by MinHash and banding, and the kinship of these.

Each flow is a set of tokens: the kind of a screen, its title, and the kinds of two screens that follow each other. Of
two sets, as many bands of their signatures agree as the sets have in common (Broder, 1997), so that a flow is held
against few others instead of all. What is found so is then ordered by kinship, which is exact.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from functools import cache
from itertools import pairwise
from typing import Any
from zlib import crc32

import msgspec

from metrograph.archive.place import EXTRA, ArchivePlace
from metrograph.archive.querying import opened
from metrograph.compare.kinship import kin_to
from metrograph.core.errors import needs
from metrograph.run.cards import Status
from metrograph.run.route import Route, ScreenKey

_HASHES, _ALIKE = 64, 0.35  # numbers of a signature; how much two sets have in common to be found, most likely
_MOST = 200  # candidates whose kinship is worked out
_SEED = 1997  # any would do: signatures of one archive have to be made alike


class Near(msgspec.Struct, frozen=True):
    """A release whose installer is near. kinship: 0 to 1; the rest is what its card, or its id, says of it."""

    release: str
    kinship: float
    distribution: str | None = None
    version: str | None = None
    edition: str | None = None
    status: Status | None = None


class Nearest(msgspec.Struct, frozen=True):
    """The nearest installers to that of a release, the nearest first. among: of how many releases."""

    release: str
    near: tuple[Near, ...]
    among: int


class KnownFlows:
    """Flows of releases, ready to be asked which are near."""

    def __init__(self, flows: Mapping[str, Route]) -> None:
        datasketch = needs("datasketch", EXTRA)
        self.flows = flows
        # Recall counts more than precision: what is found in vain costs little, what is missed is lost.
        self.index = datasketch.MinHashLSH(threshold=_ALIKE, num_perm=_HASHES, weights=(0.05, 0.95))
        with self.index.insertion_session() as session:
            for release, flow in flows.items():
                session.insert(release, _signature(flow))

    def candidates(self, flow: Route) -> list[str]:
        """Releases whose flow may be near."""
        return sorted(self.index.query(_signature(flow)))

    def nearest(self, release: str, flow: Route, most: int = 5) -> Nearest:
        """The nearest to the flow of a release, by kinship; never that release itself."""
        names = [name for name in self.candidates(flow) if name != release]
        ours = _tokens(flow)
        # Of very many, those that have most in common.
        names.sort(key=lambda name: -_common(ours, _tokens(self.flows[name])))
        names = names[:_MOST]
        kinships = kin_to(flow, [self.flows[name] for name in names])
        near = sorted(
            (Near(name, round(float(kin), 4)) for name, kin in zip(names, kinships, strict=True)),
            key=lambda each: (-each.kinship, each.release),
        )
        return Nearest(release, tuple(near[:most]), len(self.flows) - (release in self.flows))


_LATEST = """
WITH latest AS (
    SELECT release, arg_max(log, begun) AS log FROM runs WHERE ended AND screens > 0
    GROUP BY release
)
SELECT release, list(struct_pack(title, kind, late) ORDER BY place) FROM latest JOIN screens USING (log)
GROUP BY release
"""


_PARTS = """
SELECT any_value(distribution), any_value(version), any_value(edition), any_value(status) FROM runs WHERE release = ?
"""


def flows_of(connection: Any) -> dict[str, Route]:
    """The flow of every release of others: that of its latest run."""
    rows = connection.execute(_LATEST).fetchall()
    return {
        release: Route(tuple(ScreenKey(each["title"], each["kind"], each["late"]) for each in screens))
        for release, screens in rows
    }


def nearest_in(place: ArchivePlace, flows: Mapping[str, Route], own: str) -> tuple[Nearest, ...]:
    """The nearest installers of an archive, to those of some releases.

    flows: of these releases; own: see ``opened``.
    """
    with opened(place, own, ("runs", "screens")) as connection:
        known = KnownFlows(flows_of(connection))
        found = [known.nearest(release, flow) for release, flow in flows.items()]
        return tuple(msgspec.structs.replace(each, near=_told(connection, each.near)) for each in found)


def _told(connection: Any, near: Sequence[Near]) -> tuple[Near, ...]:
    """Releases that are near, each with what its card, or its id, says of it."""
    return tuple(
        Near(each.release, each.kinship, *connection.execute(_PARTS, [each.release]).fetchone()) for each in near
    )


@cache
def _empty() -> Any:
    """The signature of nothing, which all others begin as."""
    return needs("datasketch", EXTRA).MinHash(num_perm=_HASHES, seed=_SEED, hashfunc=crc32)


def _signature(flow: Route) -> Any:
    signature = _empty().copy()
    signature.update_batch([token.encode() for token in _tokens(flow)])
    return signature


def _tokens(flow: Route) -> set[str]:
    return set(_each_token(flow))


def _each_token(flow: Route) -> Iterator[str]:
    for screen in flow.screens:
        yield f"kind {screen.kind} {screen.late}"
        yield f"title {screen.title.casefold()}"
    for one, two in pairwise(flow.screens):
        yield f"then {one.kind} {two.kind}"


def _common(one: set[str], other: set[str]) -> float:
    return len(one & other) / (len(one | other) or 1)
