"""Getting ready: cards in full, and the image held against them."""

import hashlib
import os
import sys
import tempfile
from pathlib import Path

import pexpect

from metrograph.store.local.checksums import published_checksum
from tests.e2e.case import LogbookCase


class Cards(LogbookCase):
    here = True

    def test_the_next_release_takes_over_what_lasts(self) -> None:
        self.ok("release", "new", "larkmoor-9.0-heron", "--minimum-memory", "2 GiB", "--recommended-disk", "20 GB",
                "--claims-installation", "12:30", "--base", "Moor 4", "--released", "2026-10-27", "--architecture", "x86-64")  # fmt: skip
        self.ok("release", "new", "larkmoor-9.1-heron", "--like", "larkmoor-9.0-heron")
        card = self.json("release", "show", "larkmoor-9.1-heron")
        self.assertEqual(
            (card["minimum"]["memory"]["text"], card["recommended"]["disk"]["amount"], card["base"]),
            ("2 GiB", [20 * 10**9, 20 * 10**9], "Moor 4"),
        )
        self.assertEqual((card["version"], card["released"], card["claims"]), ("9.1", None, None))
        self.assertIn("minimum memory       2 GiB", self.ok("release", "show", "larkmoor-9.0-heron"))

    def test_what_does_not_go_together_is_refused(self) -> None:
        new = ("release", "new", "x-1.0")
        for words, expected in (
            (
                ("--minimum-memory", "2 GiB", "--recommended-memory", "1 GiB"),
                "--recommended-memory: less memory is recommended",
            ),
            (("--released", "2026-02-01", "--supported-until", "2026-01-01"), "--supported-until: support ends before"),
            (("--claims-boot", "soon"), "--claims-boot “soon”: this is no amount; expected: a time"),
            (("--checksum", "sha256:12"), "--checksum “sha256:12” has a wrong value; expected: sha256: with 64"),
            (("--like", "larkmoor-8.0-hern"), "did you mean larkmoor-8.0-heron?"),
        ):
            self.assertIn(expected, self.refused(2, *new, *words))

    def at_terminal(self, *words: str) -> "pexpect.spawn[str]":
        command = str(Path(sys.executable).with_name("metrograph"))
        return pexpect.spawn(command, list(words), cwd=str(self.folder), encoding="utf-8", timeout=30,
                             env=dict(os.environ) | {"LC_ALL": "C.UTF-8", "TERM": "xterm"})  # fmt: skip

    def test_a_second_run_on_a_rig_and_a_logbook_in_a_logbook_are_asked_about(self) -> None:
        begin = ("begin", "larkmoor-8.0-heron")
        self.ok(*begin)
        for words, question, answer, says, made in (
            (begin, "larkmoor-8.0-heron-1 is still open on bench-vm. Open another", "n", "no run was opened", False),
            (begin, "Open another", "y", "the clock runs", True),
            (("init", "inner"), "lies in the logbook", "", "nothing was made", False),
            (("init", "inner"), "Make another one in it", "y", "is a logbook now", True),
        ):
            before = self.files()
            child = self.at_terminal(*words)
            child.expect(question)
            child.sendline(answer)
            child.expect(says)
            child.expect(pexpect.EOF)
            self.assertEqual(self.files() != before, made, (words, answer))

    def test_in_a_pipe_a_logbook_in_a_logbook_is_refused(self) -> None:
        self.assertIn("--within", self.refused(2, "init", "inner"))
        self.assertIn("is a logbook already", self.ok("init"))
        self.assertIn("is a logbook now", self.ok("init", "inner", "--within"))
        self.assertIn("is a logbook already", self.ok("init", "inner"))

    def test_at_a_terminal_it_asks(self) -> None:
        child = self.at_terminal("rig", "new", "loan-laptop")
        for question, answer in {
            "kind": "physical",
            "model": "",
            "firmware": "bios",
            "processors": "4",
            "memory": "8 GiB",
            "disk": "",
        }.items():
            child.expect(f"{question}[^:]*: ")
            child.sendline(answer)
        child.expect("written")
        child.expect(pexpect.EOF)
        card = self.json("rig", "show", "loan-laptop")
        self.assertEqual(
            [card[key] for key in ("kind", "model", "processors", "memory")], ["physical", None, 4, 8 << 30]
        )


class Images(LogbookCase):
    here = True

    def setUp(self) -> None:
        super().setUp()
        self.image = self.folder / "heron.iso"
        self.image.write_bytes(b"heron" * 1000)
        self.digits = hashlib.sha256(b"heron" * 1000).hexdigest()
        self.call = ("release", "check-image", "larkmoor-8.0-heron", "heron.iso")

    def test_what_the_card_lacks_is_filled_in_and_then_checked(self) -> None:
        said = self.ok(*self.call, "--on", "2026-06-16")
        self.assertIn("nothing to check it against yet", said)
        self.assertIn("installed 49 days after the release; expect many updates", said)
        card = self.json("release", "show", "larkmoor-8.0-heron")
        self.assertEqual((card["image_size"], card["checksum"]), (5000, f"sha256:{self.digits}"))
        self.assertIn("its SHA-256 checksum is right", self.ok(*self.call, "--on", "2026-04-28"))
        self.image.write_bytes(b"heroN" * 1000)
        wrong = self.run_command(*self.call)
        self.assertEqual((wrong.returncode, wrong.stderr), (1, ""))
        self.assertIn(f"and {self.digits} is published", wrong.stdout)
        self.assertEqual(self.json("release", "show", "larkmoor-8.0-heron"), card)

    def test_a_file_of_checksums_in_the_usual_layouts(self) -> None:
        long = hashlib.sha512(b"heron" * 1000).hexdigest()
        sums = self.folder / "SUMS"
        for text, expected in (
            (f"{'0' * 64}  other.iso\n{self.digits} *heron.iso\n", f"sha256:{self.digits}"),
            (f"SHA512 (heron.iso) = {long}\n", f"sha512:{long}"),
            (f"{self.digits.upper()}\n", f"sha256:{self.digits}"),
        ):
            sums.write_text(text)
            self.assertEqual(published_checksum(sums, "heron.iso"), expected)
            self.assertIn("checksum is right", self.ok(*self.call, "--checksums", "SUMS"))
        sums.write_text(f"{self.digits}  other.iso\n")
        self.assertIn(
            "has no SHA-256 or SHA-512 checksum for heron.iso", self.refused(2, *self.call, "--checksums", "SUMS")
        )
        self.assertIn("cannot be read", self.refused(2, *self.call[:-1], "missing.iso"))
        with tempfile.TemporaryDirectory() as folder:
            self.assertIn("is a folder", self.refused(2, *self.call[:-1], folder))
