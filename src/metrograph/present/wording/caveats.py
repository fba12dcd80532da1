"""Says why a comparison is to be read with care."""

from __future__ import annotations

from metrograph.compare.records import Affects, Caveat, CaveatKind

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


def caveat_sentence(caveat: Caveat) -> str:
    """Why to read with care, without the values that differ."""
    names = ", ".join(caveat.names)
    among = f" Times are compared on {names} only." if names else ""
    more = f" (and {caveat.more} more)" if caveat.more else ""
    return _SENTENCES[caveat.what].format(names=names, among=among, more=more)


def caveat_line(caveat: Caveat) -> str:
    """Why to read with care, and what each release has."""
    line, grounds = caveat_sentence(caveat), ""
    if caveat.affects is Affects.TIMES:
        grounds, line = "Times cannot be compared: ", line[0].lower() + line[1:]
    return f"{grounds}{line} {' | '.join(value or 'not said' for value in caveat.values)}"
