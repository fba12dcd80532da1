"""Faults in the terminal: a line each, as an editor can jump to."""

from __future__ import annotations

from collections.abc import Iterable

from metrograph.log.cues import Fault
from metrograph.present.palette import CARE, WORSE
from metrograph.present.safe import readable
from metrograph.present.terminal.paper import Paper
from metrograph.present.terminal.table import render_lines


def render_faults(faults: Iterable[Fault], paper: Paper) -> str:
    """A line a fault: where, how bad, what is wrong, what could stand there."""
    return paper.finish("".join(_fault(readable(fault), paper) for fault in faults))


def _fault(fault: Fault, paper: Paper) -> str:
    expected = f"; expected: {fault.expected}" if fault.expected else ""
    text = f"{fault.file}:{fault.line}:{fault.column}: {fault.level}: {fault.message}{expected}"
    level = paper.ink(fault.level, WORSE if fault.level == "error" else CARE)
    return render_lines([text], paper, indent=0).replace(f": {fault.level}:", f": {level}:", 1)
