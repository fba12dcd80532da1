"""Personal values and secrets, through the commands."""

from tests.e2e.case import LogbookCase


class Personal(LogbookCase):
    here = True

    def test_masked_unless_asked_for_and_secrets_never_written(self) -> None:
        run = self.ok("begin", "larkmoor-8.0-heron").split()[0]
        self.ok("cue", "screen Your account")
        self.ok("cue", "enter host name = reading-room")
        self.ok("cue", "issue The greeter is called reading-room")
        refused = self.refused(2, "cue", "note the password was hunter2")
        self.assertIn("this looks like a password", refused)
        self.assertNotIn("hunter2", refused)
        self.ok("end")
        other = self.ok("begin", "larkmoor-8.0-heron").split()[0]
        self.ok("end")
        for words in (
            ["show", run],
            ["compare", run, other],
            ["show", run, "--json"],
            ["draw", "lanes", run, "-o", "x.svg"],
        ):
            masked = self.run_command(*words)
            self.assertEqual(masked.returncode, 0)
            self.assertRegex(masked.stderr, r"^metrograph: personal values are masked in \w+ places?; --show-personal")
            drawn = (self.folder / "x.svg").read_text() if words[0] == "draw" else ""
            self.assertNotIn("reading-room", masked.stdout + drawn)
            self.assertIn("[host name]", masked.stdout + drawn)
            shown = self.ok(*words, "--show-personal")
            self.assertIn("reading-room", shown + ((self.folder / "x.svg").read_text() if drawn else ""))
        (self.folder / "talk.txt").write_text("0:00 then I type password: a1b2c3\n")
        self.run_command("import", "notes", "talk.txt", "--run", run)
        self.assertIn("0:00 note then I type password: [left out]\n", self.log())
