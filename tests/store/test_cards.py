"""Cards: comments kept, wrong values located."""

import tempfile
import unittest
from pathlib import Path

from metrograph.core.errors import MetrographError
from metrograph.run.cards import Claims, Needs, Release, Rig
from metrograph.store.local.card_files import load_card, new_card, parse_card, update_card
from metrograph.store.local.logbook import Logbook, make_logbook
from tests.helpers import said


class Parsing(unittest.TestCase):
    def test_sizes_in_either_form(self) -> None:
        rig, faults = parse_card('memory = "4 GiB"\ndisk = 120000000000\nsecure_boot = false', Rig, "rig.toml")
        self.assertEqual((rig, faults), (Rig(memory=4 << 30, disk=120 * 10**9, secure_boot=False), ()))

    def test_every_wrong_value_is_located_and_the_rest_is_read(self) -> None:
        text = '# a comment\nmodel = "x"\nmemory = "lots"\nprocessors = "two"\nfirmware = "efi"\ncolour = 1\nsecure_boot = 1\n'
        rig, faults = parse_card(text, Rig, "rig.toml")
        self.assertEqual(rig, Rig(model="x"))
        self.assertEqual(
            [(fault.line, fault.found, fault.expected) for fault in faults],
            [
                (3, "'lots'", "a size with its unit, such as 25 GiB (binary) or 300 MB (decimal)"),
                (4, "'two'", "a whole number above 0"),
                (5, "'efi'", "uefi or bios"),
                (6, "colour", "one of name, kind, model, firmware, secure_boot, processors, memory, disk, graphics, network, display, notes"),
                (7, "1", "true or false"),
            ],
        )  # fmt: skip
        _, faults = parse_card('released = "soon"', Release, "r.toml")
        self.assertEqual(faults[0].expected, "a date, as far as it is known: 2026, 2026-04 or 2026-04-28")

    def test_tables_within_a_card_are_located_too(self) -> None:
        text = 'released = 2026-04-28\nsupported_until = 2026-01-01\n[minimum]\nmemory = "2 GiB"\nlegs = 4\n[claims]\ninstallation = "12:30"\nboot = "soon"\n[recommended]\nmemory = "1 GiB"\n'
        card, faults = parse_card(text, Release, "r.toml")
        self.assertEqual((card.minimum, card.claims), (Needs(said("2 GiB")), Claims(installation=said("12:30"))))
        self.assertEqual(
            [(fault.line, fault.level, fault.message) for fault in faults],
            [
                (2, "warning", "support ends before the release came out on 2026-04-28"),
                (5, "error", "“minimum” has no “legs”"),
                (8, "error", "“claims.boot” has a wrong value"),
                (10, "warning", "less memory is recommended than is the minimum"),
            ],
        )
        for inline in ('minimum = { memory = "x" }', 'minimum.memory = "x"', "checksum = 'sha256:12'", "minimum = 3"):
            self.assertEqual([fault.line for fault in parse_card("\n" + inline, Release, "r.toml")[1]], [2], inline)

    def test_what_is_not_toml_is_located(self) -> None:
        for text, line in (('model = "x"\nmemory 4\n', 2), ("model = [", 1), ("", 0)):
            faults = parse_card(text, Rig, "rig.toml")[1]
            self.assertEqual([fault.line for fault in faults], [line] if line else [])


class Writing(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.logbook = Logbook(Path(folder.name))
        make_logbook(self.logbook.path)

    def test_a_new_card_reads_back_the_same(self) -> None:
        card = Release(
            distribution="Larkmoor", released="2026-04-28", image_size=2684 << 20, architectures=("x86-64", "arm64"),
            checksum="sha256:" + "0a" * 32, minimum=Needs(said("2 GiB"), said("20 GB"), 2), claims=Claims(installation=said("about 12:30")),
        )  # fmt: skip
        new_card(self.logbook, "larkmoor-8.0-heron", card)
        self.assertEqual(load_card(self.logbook, Release, "larkmoor-8.0-heron"), card)
        with self.assertRaisesRegex(MetrographError, "there already; --update"):
            new_card(self.logbook, "larkmoor-8.0-heron", card)

    def test_an_update_changes_one_line_and_keeps_what_a_person_wrote(self) -> None:
        path = self.logbook.card("rigs", "bench-vm")
        path.write_text('# the old bench\nmemory = "4 GiB"  # borrowed\nmodel   =  "x"\n')
        update_card(self.logbook, "bench-vm", Rig(memory=8 << 30, processors=2))
        self.assertEqual(
            path.read_text(), '# the old bench\nmemory = "8 GiB"  # borrowed\nmodel   =  "x"\nprocessors = 2\n'
        )

    def test_unknown_and_wrong_cards(self) -> None:
        new_card(self.logbook, "bench-vm", Rig())
        with self.assertRaisesRegex(MetrographError, "no rig “bench-vn”; did you mean bench-vm"):
            load_card(self.logbook, Rig, "bench-vn")
        self.logbook.card("rigs", "bad").write_text("processors = 0")
        with self.assertRaisesRegex(
            MetrographError, r"bad\.toml:1: “processors” has a wrong value: 0; expected: a whole number"
        ):
            load_card(self.logbook, Rig, "bad")
        self.logbook.card("rigs", "bad").write_bytes(b"\xff")
        with self.assertRaisesRegex(MetrographError, "not UTF-8"):
            load_card(self.logbook, Rig, "bad")
