"""Every kind of result has its words: one that is added without any fails here, not before a reader."""

import unittest
from enum import Enum

from metrograph.compare.flow_records import Affects, Caveat, CaveatKind, Change, What
from metrograph.measures.catalogue import MEASURES
from metrograph.run.disks import LayoutDifference, Mismatch
from metrograph.run.warnings import Lack, Lacking
from metrograph.words.caveat_words import caveat_line
from metrograph.words.change_words import deviation, sentence
from metrograph.words.runs import lack, layout_difference


class Words(unittest.TestCase):
    def told(self, text: str, kind: Enum) -> None:
        self.assertRegex(text, r"\w{3,}", kind)
        self.assertNotRegex(text, r"[{}]|None", kind)

    def test_changes(self) -> None:
        for what in What:
            change = Change("a", "b", what, "disk", "Disk", "swap", "none", "file")
            self.told(sentence(change), what)
            self.told(deviation(change), what)

    def test_caveats(self) -> None:
        for kind in CaveatKind:
            for affects in Affects:
                self.told(caveat_line(Caveat(kind, ("1", "2"), affects, ("bench-vm",), 2), ("7.0", "8.0")), kind)

    def test_what_is_lacking_and_what_differs_on_the_disk(self) -> None:
        for lacking in Lack:
            self.told(lack(Lacking(lacking, "disk-hidden")), lacking)
        for mismatch in Mismatch:
            self.told(layout_difference(LayoutDifference(mismatch, "/home", "ext4", "xfs")), mismatch)

    def test_measures(self) -> None:
        words = [measure.words for measure in MEASURES.values()]
        self.assertEqual(len(set(words)), len(words))
