"""Says why a comparison is to be read with care."""

from __future__ import annotations

from collections.abc import Sequence

from metrograph.compare.records import Affects, Caveat, CaveatKind
from metrograph.present.wording.figures import counted

_SENTENCES = {
    CaveatKind.RIG: "The rigs differ: trouble with hardware cannot be compared as it stands.{among}",
    CaveatKind.MACHINE: "Some machines are virtual and some are not.",
    CaveatKind.MEMORY: "The rigs have different memory.",
    CaveatKind.PROCESSORS: "The rigs have different processors.",
    CaveatKind.DISK: "The rigs have disks of different size.",
    CaveatKind.FIRMWARE: "The rigs have different firmware.",
    CaveatKind.GRAPHICS: "The rigs have different graphics.",
    CaveatKind.NETWORK: "The rigs have different networks.",
    CaveatKind.WAY: "They were not installed in the same way.",
    CaveatKind.METHOD: "The disk was divided by different methods.",
    CaveatKind.ENCRYPTION: "Some disks were encrypted and some were not.",
    CaveatKind.EXTRAS: "Different software was ticked.",
    CaveatKind.LANGUAGE: "Different languages were picked.",
    CaveatKind.CUTS: "Some records skip time: durations across a cut are known between bounds only.",
    CaveatKind.OPEN: "Some runs have not ended yet.",
    CaveatKind.RUNS: "Where there is one run only, a difference in time may be chance.",
    CaveatKind.IMAGE_AGE: "The images were of different age, so first updates differ for that alone.",
    CaveatKind.CHOICES: "The same questions were answered otherwise{more}.",
    CaveatKind.STATE: "{names} was read in different states, which cannot be compared.",
}
_COUNTED = {CaveatKind.CUTS: "cut", CaveatKind.OPEN: "open run", CaveatKind.RUNS: "run"}
"""What the values of some are numbers of."""


def caveat_sentence(caveat: Caveat) -> str:
    """Why to read with care, without the values that differ."""
    names = ", ".join(caveat.names)
    among = f" Times are compared on {names} only." if names else ""
    more = f" (and {caveat.more} more)" if caveat.more else ""
    return _SENTENCES[caveat.what].format(names=names, among=among, more=more)


def caveat_line(caveat: Caveat, releases: Sequence[str]) -> str:
    """Why to read with care, and what each release has."""
    said = [f"{name}: {_value(caveat, value)}" for name, value in zip(releases, caveat.values, strict=True)]
    reason, _, more = caveat_sentence(caveat).partition(". ")
    line = f"{reason.removesuffix('.')} ({'; '.join(said)}).{more and f' {more}'}"
    if caveat.affects is Affects.TIMES:
        return f"Times cannot be compared: {line[0].lower()}{line[1:]}"
    return line


def _value(caveat: Caveat, value: str) -> str:
    if caveat.what in _COUNTED and value:
        return counted(int(value), _COUNTED[caveat.what])
    return value or "not noted"
