"""A machine as a rig, read from the system's own files."""

import tempfile
import unittest
from pathlib import Path

from metrograph.intake.probed import this_machine


class Here(unittest.TestCase):
    def test_a_made_up_machine(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            root = Path(name)
            for path, text in {
                "proc/meminfo": "MemTotal:        8000000 kB\nMemFree: 1 kB\n",
                "proc/cpuinfo": "flags : fpu hypervisor\n",
                "sys/class/dmi/id/sys_vendor": "Bench\n",
                "sys/class/dmi/id/product_name": "Model One\n",
                "sys/class/dmi/id/product_serial": "SECRET-1\n",
                "sys/block/vda/size": "52428800\n",
                "sys/block/sdb/size": "99999999999\n",
                "sys/block/sdb/removable": "1\n",
                "sys/block/loop0/size": "99999999999\n",
                "sys/firmware/efi/x": "",
            }.items():
                (root / path).parent.mkdir(parents=True, exist_ok=True)
                (root / path).write_text(text)
            rig = this_machine(root)
        self.assertEqual((rig.kind, rig.model, rig.firmware), ("virtual", "Bench Model One", "uefi"))
        self.assertEqual((rig.memory, rig.disk), (8 << 30, 25 << 30))
        self.assertNotIn("SECRET", repr(rig))

    def test_memory_is_what_is_in_the_machine_and_not_what_the_system_sees_of_it(self) -> None:
        # (kB that a system saw, GiB that were in it)
        for seen, there in ((24684096, 24), (65764352, 64), (3911680, 4), (1488000, 1.5), (2097152, 2), (12155000, 12)):
            with tempfile.TemporaryDirectory() as name:
                (Path(name) / "proc").mkdir()
                (Path(name) / "proc/meminfo").write_text(f"MemTotal: {seen} kB\n")
                self.assertEqual(this_machine(Path(name)).memory, there * (1 << 30))

    def test_a_machine_that_tells_nothing(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            rig = this_machine(Path(name))
        self.assertEqual((rig.kind, rig.memory, rig.disk, rig.firmware), ("physical", None, None, "bios"))

    def test_this_machine(self) -> None:
        self.assertGreater(this_machine().memory or 0, 1 << 20)
