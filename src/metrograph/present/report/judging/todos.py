"""What is left to do as a report: release by release."""

from __future__ import annotations

from metrograph.ledgers.todos import TodoLedger, Wanted
from metrograph.present.report import model as m
from metrograph.present.wording.runs import todo


def todos_report(ledger: TodoLedger) -> m.Report:
    """What was noted as left to do, run by run, then what the checklist wants of each release."""
    noted = tuple(f"{left.run}: {todo(left.text, left.reader)}" for left in ledger.todos)
    wanted = (part for each in ledger.wanted for part in m.section(f"Still wanted of {each.release}", _labels(each)))
    return m.Report(parts=(*m.section("Left to do", m.Lines(noted)), *wanted), empty="nothing is left to do")


def _labels(each: Wanted) -> m.Labels:
    kinds = {"to try": each.to_try, "to read": each.to_read, "to tweak": each.to_tweak, "to add": each.to_add}
    return m.Labels(tuple((label, ", ".join(names)) for label, names in kinds.items() if names))
