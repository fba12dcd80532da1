from __future__ import annotations

import tempfile
import unittest
from pathlib import Path
from unittest import mock

from metrograph.intake.source import Event
from metrograph.log.cues import Cue, Header
from metrograph.log.lexicon import load_lexicon
from metrograph.log.quantities.times import parse_begun
from metrograph.services.seeing import Drafting, SpokenPart
from metrograph.store.local.drafts import new_draft, read_draft
from metrograph.store.local.logbook import Logbook, make_logbook
from metrograph.watch.drafts.scanning import Scan
from metrograph.watch.pages.watching import FoundPage
from tests.watch.drawn import page


class DraftingTest(unittest.TestCase):
    def test_drafts_are_numbered_by_release(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            book = Logbook(Path(name))
            make_logbook(book.path)
            releases = ("larkmoor-8.0-heron", "larkmoor-8.0-heron", "osterby-2026.1")
            headers = [Header(each, "bench-vm", parse_begun("2026-05-02T10:04:11+02:00")) for each in releases]
            self.assertEqual(
                [new_draft(book, header) for header in headers],
                ["larkmoor-8.0-heron-1", "larkmoor-8.0-heron-2", "osterby-2026.1-1"],
            )

    def test_what_is_heard_before_anything_is_seen_is_proposed(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            book = Logbook(Path(name))
            make_logbook(book.path)
            header = Header("larkmoor-8.0-heron", "bench-vm", parse_begun("2026-05-02T10:04:11+02:00"))
            drafting = Drafting(book, new_draft(book, header), header, SpokenPart())
            drafting.hear([Event(Cue(0, "note", None, "heard"), at=1000)])
            self.assertTrue(drafting.propose(Scan(load_lexicon())))
            self.assertEqual([cue.text for cue in read_draft(book, drafting.name).cues], ["heard"])

    def test_the_last_page_before_a_long_silence_is_proposed_without_another(self) -> None:
        with (
            tempfile.TemporaryDirectory() as name,
            mock.patch("metrograph.services.seeing.time.monotonic") as clock,
        ):
            book = Logbook(Path(name))
            make_logbook(book.path)
            header = Header("larkmoor-8.0-heron", "bench-vm", parse_begun("2026-05-02T10:04:11+02:00"))
            drafting = Drafting(book, new_draft(book, header), header, SpokenPart())
            scan = Scan(load_lexicon())
            clock.return_value = 100.0
            list(scan.take([FoundPage(page(0, "# Language", "In which one should it speak?", "[Next]"))]))
            scan.end = 4000
            self.assertTrue(drafting.propose(scan))
            self.assertFalse(drafting.propose(scan), "nothing is new")
            list(scan.take([FoundPage(page(4, "# Keyboard layout", "Type here to test it all", "[Next]"))]))
            scan.end = 9000
            self.assertFalse(drafting.propose(scan), "too soon")
            clock.return_value = 101.0
            self.assertTrue(drafting.propose(scan), "no other page has come since")
            self.assertEqual(
                [cue.text for cue in read_draft(book, drafting.name).cues], ["Language", "Keyboard layout"]
            )
