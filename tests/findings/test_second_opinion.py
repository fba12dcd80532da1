"""A second opinion: whoever reads the lines of the logs alone, slowly and plainly, finds every finding to be so."""

from __future__ import annotations

import os
import unittest
from itertools import pairwise
from statistics import median

from metrograph.findings.finding_records import (
    Amount,
    Finding,
    IssueOutcome,
    PresetChange,
    ScreenList,
    Subject,
    TrialOutcome,
    Way,
)
from metrograph.findings.telling import findings_of
from metrograph.ledgers.comparison import compare
from metrograph.ledgers.issues import IssueStatus
from metrograph.words.answers.comparison_answers import answer
from tests.findings.logbooks import GIB, ISSUES, PRESETS, Book, Line, made_up

BOOKS = int(os.environ.get("METROGRAPH_BOOKS", "150"))
Log = list[Line]
_LATE = ("phase restart", "phase setup", "phase desktop", "phase tour", "screen Updates")


def starting(log: Log, words: str) -> list[Line]:
    return [line for line in log if line.text.startswith(words)]


def titles(log: Log) -> list[str]:
    return [line.text.removeprefix("screen ") for line in starting(log, "screen ")]


def is_cut(log: Log) -> bool:
    return bool(starting(log, "cut "))


def has_issue(log: Log, name: str) -> bool:
    return bool(starting(log, f"issue {name}:"))


def moment(log: Log, name: str) -> int | None:
    """When a run was installed, at the desktop or up to date, as somebody with a finger on the lines would say."""
    if name == "installed":
        return next((line.at for line in starting(log, "screen Finished")), None)
    if name == "desktop":
        return next((line.at for line in starting(log, "phase desktop")), None)
    if name == "updated":
        return next((line.at for line in starting(log, "ready")), None)
    raise AssertionError(name)


def hands_on(log: Log) -> int | None:
    """Seconds up to the desktop in which nobody waited for the machine."""
    desktop, own, waiting = moment(log, "desktop"), 0, False
    if desktop is None:
        return None
    for line, after in pairwise(log):
        if line.text in {"wait", "screen Copying files"}:
            waiting = True
        elif line.text.startswith(("screen ", "phase ", "ready")):
            waiting = False
        if after.at <= desktop and not waiting:
            own += after.at - line.at
    return own


def figure(log: Log, name: str) -> float | None:
    """What was read, in bytes."""
    found = starting(log, f"reading {name} = ")
    return None if not found else int(found[-1].text.rpartition("= ")[2].split()[0]) * (1 << 20)


def swap_file(log: Log) -> int | None:
    said = [field for line in starting(log, "layout ") for field in line.fields if field.startswith("swap: ")]
    return None if not said else int(said[-1].split()[2]) * GIB if "file" in said[-1] else 0


def result(logs: list[Log], trial: str) -> str | None:
    """How a trial came out in a release; mixed where its runs do not agree, None where nobody made it."""
    made = {line.text.rpartition(": ")[2] for log in logs for line in starting(log, f"check {trial}:")} - {"skipped"}
    return None if not made else made.pop() if len(made) == 1 else "mixed"


def is_late(log: Log, title: str) -> bool:
    place = next(number for number, line in enumerate(log) if line.text == f"screen {title}")
    return any(line.text.startswith(_LATE) for line in log[:place])


class Opinion:
    """What the lines of a logbook say of a finding about two of its releases."""

    def __init__(self, book: Book, earlier: str, later: str) -> None:
        self.book, self.earlier, self.later = book, earlier, later
        self.before, self.after = book.runs[earlier], book.runs[later]
        self.across = book.origins[earlier] != book.origins[later]
        names = list(book.runs)
        self.history = [
            book.runs[name] for name in names[: names.index(later)] if book.origins[name] == book.origins[later]
        ]

    def wrong(self, finding: Finding) -> str | None:
        """What is wrong with a finding; None where it is so."""
        check = {
            Subject.ISSUE: self.issue, Subject.TRIAL: self.trial, Subject.TIME: self.time, Subject.READING: self.reading,
            Subject.DISK_USED: self.reading, Subject.PRESET: self.preset, Subject.CROSSED: self.crossed,
            Subject.SCREENS_NEW: self.new, Subject.SCREENS_GONE: self.gone, Subject.SAME_INSTALLER: self.same,
            Subject.QUESTIONS_NEW: self.asked, Subject.QUESTIONS_GONE: self.asked,
        }.get(finding.what)  # fmt: skip
        return f"nobody can say what a finding about {finding.what} is" if check is None else check(finding)

    def issue(self, finding: Finding) -> str | None:
        detail, name = finding.detail, finding.thing.rpartition(" ")[2]
        assert isinstance(detail, IssueOutcome)
        now = [has_issue(log, name) for log in self.after]
        then = [[has_issue(log, name) for log in logs] for logs in self.history]
        if self.across:
            both = any(now) and any(has_issue(log, name) for log in self.before)
            return (
                None
                if both == (finding.way is Way.OTHER) and (both or any(now) or finding.way is Way.BETTER)
                else "shared"
            )
        had = [runs for runs in then if any(runs)]
        if detail.status in {IssueStatus.NEW, IssueStatus.STILL_THERE, IssueStatus.BACK_AGAIN}:
            if not any(now) or detail.seen != sum(now):
                return "not seen"
            return None if (detail.status is IssueStatus.NEW) == (not had) else "new or known"
        if any(now) or not had:
            return "seen, or never there"
        if detail.status is IssueStatus.GONE and not self.looked_for(name):
            return "nobody looked for it"
        return None if detail.seen_before == sum(had[-1]) else "how often before"

    def looked_for(self, name: str) -> bool:
        """Whether somebody came by the screen of an issue, or made the trial that it lets fail with success."""
        if name == "printer-silent":
            return any(line.text == "check printer: pass" for log in self.after for line in log)
        return bool(ISSUES[name][0]) and any(ISSUES[name][0] in titles(log) for log in self.after)

    def trial(self, finding: Finding) -> str | None:
        detail = finding.detail
        assert isinstance(detail, TrialOutcome)
        was, now = result(self.before, finding.thing), result(self.after, finding.thing)
        if (was, now) != (detail.before, detail.after) or was == now:
            return f"{was} and {now}"
        good = {"fail": 0, "mixed": 1, "partly": 1, "pass": 2}
        worse = was is None or good[now or "fail"] < good[was]
        if detail.again and not any(result(logs, finding.thing) == "pass" for logs in self.history):
            return "it never worked before"
        return None if worse == (finding.way is Way.WORSE) else "which way"

    def values(self, logs: list[Log], name: str) -> list[float]:
        most = max((moment(log, "desktop") is not None for log in logs), default=False)
        counted = [log for log in logs if name != "hands-on" or (moment(log, "desktop") is not None) == most]
        return [
            value
            for log in counted
            if (value := hands_on(log) if name == "hands-on" else moment(log, name)) is not None
        ]

    def time(self, finding: Finding) -> str | None:
        detail = finding.detail
        assert isinstance(detail, Amount)
        if any(line.text == "cut ?" for log in (*self.before, *self.after) for line in log):
            return "a record skips an unknown time"
        one, other = self.values(self.before, detail.name), self.values(self.after, detail.name)
        if not one or not other:
            return "one of them did not get there"
        if any(map(is_cut, (*self.before, *self.after))):
            return None  # between bounds, which the finger on the lines does not follow
        return self.amount(finding, median(one), median(other))

    def reading(self, finding: Finding) -> str | None:
        detail = finding.detail
        assert isinstance(detail, Amount)
        thing = detail.name.rpartition(" (")[0]
        one, other = (
            [value for log in logs if (value := figure(log, thing)) is not None] for logs in (self.before, self.after)
        )
        if not one or not other:
            return "not read in both"
        files = [[file for log in logs if (file := swap_file(log)) is not None] for logs in (self.before, self.after)]
        known = (len(files[0]), len(files[1])) == (len(self.before), len(self.after))
        if detail.steps and not known:
            return "nobody said what becomes of the swap file"
        if not detail.steps and thing == "disk used" and known and median(files[0]) != median(files[1]):
            return "a swap file is in it that changed"
        return self.amount(finding, median(one), median(other))

    def amount(self, finding: Finding, one: float, other: float) -> str | None:
        detail = finding.detail
        assert isinstance(detail, Amount)
        if abs(detail.before.low - one) > 1 or abs(detail.after.low - other) > 1:
            return f"{one} and {other}, not {detail.before.low} and {detail.after.low}"
        if detail.steps and abs(sum(step.amount for step in detail.steps) - (other - one)) > 2:
            return "the steps do not add up"
        own = next((step.amount for step in detail.steps if step.name == "disk used"), other - one)
        return None if (own > 0) == (finding.way is Way.WORSE) or not own else "which way"

    def preset(self, finding: Finding) -> str | None:
        detail = finding.detail
        assert isinstance(detail, PresetChange)
        key = PRESETS[detail.screen][0]
        then, now = (
            {line.text.rpartition("= ")[2] for log in logs for line in starting(log, f"keep {key} = ")}
            for logs in (self.before, self.after)
        )
        return (
            None
            if (detail.before in then and detail.after in now and detail.before not in now)
            else f"{then} and {now}"
        )

    def crossed(self, finding: Finding) -> str | None:
        assert isinstance(finding.detail, ScreenList)
        for title in finding.detail.titles:
            then = {is_late(log, title) for log in self.before if title in titles(log)}
            now = {is_late(log, title) for log in self.after if title in titles(log)}
            if finding.detail.late not in now or (not finding.detail.late) not in then:
                return title
        return None

    def new(self, finding: Finding) -> str | None:
        assert isinstance(finding.detail, ScreenList)
        return self.only(finding.detail.titles, self.after, self.before)

    def gone(self, finding: Finding) -> str | None:
        assert isinstance(finding.detail, ScreenList)
        return self.only(finding.detail.titles, self.before, self.after)

    def only(self, wanted: tuple[str, ...], having: list[Log], lacking: list[Log]) -> str | None:
        """What of some titles is not in the ones only."""
        if self.across:
            return "neither came before the other"
        for title in wanted:
            if not any(title in titles(log) for log in having) or any(title in titles(log) for log in lacking):
                return title
        return None

    def asked(self, finding: Finding) -> str | None:
        assert isinstance(finding.detail, ScreenList)
        having, lacking = (
            (self.after, self.before) if finding.what is Subject.QUESTIONS_NEW else (self.before, self.after)
        )
        for key in finding.detail.titles:
            if not any(starting(log, f"keep {key} ") for log in having) or any(
                starting(log, f"keep {key} ") for log in lacking
            ):
                return key
        return None

    def same(self, _: Finding) -> str | None:
        if not self.across:
            return "of one line that goes without saying"
        flows = [
            list(dict.fromkeys(
                title for log in logs for title in titles(log) if title in ("Language", "Where are you?", "Keyboard",
                "Choose your software", "Disk", "Your account", "Extra drivers")
            ))
            for logs in (self.before, self.after)
        ]  # fmt: skip
        return None if flows[0] == flows[1] else f"{flows}"


class SecondOpinion(unittest.TestCase):
    def test_every_finding_is_so(self) -> None:
        told = 0
        for seed in range(BOOKS):
            book = made_up(seed)
            comparison = compare(book.sides())
            for pair in comparison.neighbours:
                opinion = Opinion(book, pair.earlier, pair.later)
                for finding in findings_of(comparison, pair):
                    self.assertIsNone(opinion.wrong(finding), (seed, finding))
                    told += 1
                self.assertTrue(answer(comparison, pair))
        self.assertGreater(told, BOOKS)  # that there is something to be wrong about


if __name__ == "__main__":
    unittest.main()
