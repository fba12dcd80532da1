from __future__ import annotations

import unittest

from metrograph.compare.align.merge import merged_flow
from metrograph.compare.changes import told_between
from metrograph.compare.coverage import Coverage
from metrograph.compare.flow_records import Side
from metrograph.run.route import NO_RULINGS
from tests.helpers import run_of

BEFORE = (
    "0:00 screen Language\n1:00 screen Your account\n2:00 screen Copying files\n3:00 screen Finished\n4:00 end done"
)


class NamelessTest(unittest.TestCase):
    def changes(self, after: str) -> list[tuple[str, str | None]]:
        sides = [Side("old", (run_of(BEFORE, "larkmoor-1"),)), Side("new", (run_of(after, "larkmoor-2"),))]
        merged = merged_flow(sides, NO_RULINGS, None)
        told = told_between(sides, merged, Coverage(sides, merged), 0, 1)
        return [(str(change.what), change.title) for change in told.changes]

    def test_what_may_stand_behind_a_screen_without_a_title_is_not_gone_and_not_renamed(self) -> None:
        for kind in ("", "\n    kind: account"):
            after = BEFORE.replace("screen Your account", f"screen Unknown screen 1{kind}")
            self.assertEqual(self.changes(after), [], kind)

    def test_what_is_not_there_where_every_title_is_known_is_gone(self) -> None:
        after = BEFORE.replace("1:00 screen Your account\n", "")
        self.assertEqual(self.changes(after), [("screen-gone", "Your account")])

    def test_two_words_for_a_desktop_are_no_new_name_of_it(self) -> None:
        def ending(title: str, kind: str) -> str:
            return BEFORE.replace("4:00 end", f"4:00 screen {title}\n    kind: {kind}\n5:00 end")

        sides = [Side(name, (run_of(ending(title, "desktop"), name),)) for name, title in (("a", "Home"), ("b", "Desktop"))]  # fmt: skip
        merged = merged_flow(sides, NO_RULINGS, None)
        self.assertEqual(told_between(sides, merged, Coverage(sides, merged), 0, 1).changes, [])
