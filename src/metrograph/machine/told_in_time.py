"""Puts what a machine told into the time of its draft: firmware that begins anew by itself is no restart."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from metrograph.machine.control import Happened, WrittenBytes
from metrograph.watch.drafts.machine_told import MachineTold

_OWN_RESETS = 5.0  # seconds from power-on in which firmware begins anew by itself
_SAME = 3.0  # seconds within which two resets are one
_WRITES = 1 << 20  # bytes a second: a system at rest writes less
_STOPS = 4.0  # seconds without writing after which it is over


def told_by(
    happened: Sequence[Happened], written: Sequence[WrittenBytes], acts: Sequence[float], begun: float
) -> MachineTold:
    """What a machine told since it was switched on, by the clock that its times are in. acts: when a person did one."""

    def moment(at: float) -> int:
        return max(round((at - begun) * 1000), 0)

    resets = [each.at for each in happened if each.what == "RESET" and each.at - begun > _OWN_RESETS]
    put_out = [each.at for each in happened if each.what == "DEVICE_TRAY_MOVED" and each.opened]
    off = [each.at for each in happened if each.what == "SHUTDOWN" and each.by_guest]
    return MachineTold(
        resets=tuple(moment(at) for number, at in enumerate(resets) if not number or at - resets[number - 1] > _SAME),
        ejected=tuple(map(moment, put_out)),
        shut_down=moment(off[0]) if off else None,
        writing=tuple((moment(start), moment(end)) for start, end in writing_in(written)),
        acts=tuple(map(moment, acts)),
    )


def writing_in(samples: Sequence[WrittenBytes]) -> list[tuple[float, float]]:
    """The stretches, from and until in seconds, in which a disk was written to without a longer rest."""
    found: list[tuple[float, float]] = []
    for before, after in pairwise(samples):
        seconds = after.at - before.at
        if seconds <= 0 or (after.bytes - before.bytes) / seconds < _WRITES:
            continue
        if found and before.at - found[-1][1] <= _STOPS:
            found[-1] = found[-1][0], after.at
        else:
            found.append((before.at, after.at))
    return found
