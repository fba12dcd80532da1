"""An install day by command: from an empty folder to a compared timeline."""

import json
import re
import unittest
from pathlib import Path

from tests.e2e.case import LogbookCase
from tests.helpers import ROOT, call


class InstallDay(LogbookCase):
    def record(self, begun: str, *cues: tuple[str, str]) -> str:
        said = self.ok("begin", "larkmoor-8.0-heron", "--begun", begun)
        run = said.split()[0]
        for at, words in cues:
            self.ok("cue", "--run", run, "--at", at, words)
        return run

    def test_two_runs_recorded_after_the_fact_and_compared(self) -> None:
        one = self.record(
            "2026-05-02T10:04:11+02:00",
            ("0:00", "screen Boot menu"),
            ("0:30", "screen Language"),
            ("1:00", "screen Disk"),
            ("1:05", "keep swap = none"),
            ("2:00", "screen Copying files"),
            ("12:00", "phase desktop"),
            ("13:00", "check printer: pass"),
        )
        self.ok("end", "--at", "14:00")
        two = self.record(
            "2026-05-03T10:04:11+02:00",
            ("0:00", "screen Boot menu"),
            ("0:30", "screen Language"),
            ("0:50", "screen Keyboard"),
            ("1:00", "sc Disk"),
            ("1:05", "keep swap = file | offered none, file"),
            ("2:00", "screen Copying files"),
            ("9:00", "phase desktop"),
            ("10:00", "issue printer-silent: No paper comes"),
            ("10:10", "check printer: fail"),
        )
        self.assertIn("was not fixed", self.ok("end", "--at", "14:00"))
        found = self.json("compare", one, two)
        self.assertEqual((found["baseline"], found["releases"]), (one, [one, two]))
        changes = [
            (each["what"], each["title"], each["key"], each["before"], each["after"]) for each in found["changes"]
        ]
        self.assertEqual(
            changes,
            [
                ("screen-new", "Keyboard", None, None, None),
                ("preset-changed", "Disk", "swap", "none", "file"),
                ("check-changed", None, "printer", "pass", "fail"),
            ],
        )
        self.assertEqual([row["cells"][0] is None for row in found["rows"]], [False, False, True, False, False])
        self.assertEqual([each["phases"]["copy"]["machine"] for each in found["times"]], [[600, 600], [420, 420]])
        self.assertEqual([cell["standing"] for cell in found["issues"][0]["cells"]], ["absent", "new"])
        text = self.ok("compare", "--all", one, two)
        self.assertIn("New screen “Keyboard” (keyboard).", text)
        self.assertIn("Copying files\tcopying\t10:00\t7:00\n", text)

    def test_a_run_as_json_has_what_is_documented(self) -> None:
        run = self.record(
            "10:00", ("0:00", "screen Disk"), ("0:05", "choose swap = file | was none"), ("1:00", "cut ?")
        )
        self.ok("cue", "--at", "2:00", "issue", "x")
        shown = self.json("show", run)
        self.assertEqual(
            (shown["run"], shown["release"], shown["rig"], shown["ended"]),
            (run, "larkmoor-8.0-heron", "bench-vm", None),
        )
        self.assertEqual(shown["clock"]["on_clock"], [120, None])
        self.assertEqual(shown["screens"][0]["choices"][0],
                         {"key": "swap", "value": "file", "preset": "none", "how": "chosen", "offered": [], "why": None, "personal": False, "at": [5, 5], "told": True})  # fmt: skip
        self.assertEqual(shown["issues"][0]["at"], [120, None])
        documented = set(
            re.findall(r"^\| `(\w+)` \|", (ROOT / "docs/json.md").read_text().split("## `compare")[0], re.MULTILINE)
        )
        self.assertLessEqual(set(shown), documented)
        table = (ROOT / "docs/json.md").read_text().split("## `compare")[1].split("## The others")[0]
        compared = set(re.findall(r"`(\w+)`", "".join(re.findall(r"^\| (`\w+`(?:, `\w+`)*) \|", table, re.MULTILINE))))
        self.ok("end")
        other = self.record("0:10", ("0:00", "screen Disk"))
        self.assertEqual(set(self.json("compare", run, other)), compared | {"shape"})

    def test_live_cues_status_and_end(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron", "--rig", "bench-vm", "--reviewer", "bench")
        self.assertRegex(
            self.ok("cue", "screen", "Language"), r"^larkmoor-8\.0-heron-1  0:0\d(\.\d+)?  screen Language\n$"
        )
        self.ok("cue", "choose", "groups", "=", "+office,", "-games")
        found = self.json("status")
        self.assertEqual((found["screen"], found["now"], found["ended"]), ("Language", "person", None))
        self.assertLess(found["clock"]["on_clock"][0], 30)
        self.ok("end", "abandoned")
        self.assertIn("choose groups = +office, -games\n", self.log())
        self.assertEqual(self.json("runs")["runs"][0]["ended"], "abandoned")
        self.assertEqual(self.json("lint"), {"shape": 1, "faults": []})

    def test_times_of_day_and_minutes_ago(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron", "--begun", "2026-05-02T10:00:00Z")
        self.ok("cue", "--at", "2026-05-02T12:04:00+02:00", "screen Disk")
        self.assertIn("\n4:00 screen Disk\n", self.log())
        self.ok("end", "--at", "5:00")
        run = self.ok("begin", "larkmoor-8.0-heron").split()[0]
        self.assertIn("before the run began", self.refused(2, "cue", "--run", run, "--at", "-2:00", "wait"))

    def test_a_plan_says_what_comes_next(self) -> None:
        plan = self.record(
            "10:00",
            ("0:00", "screen Language"),
            ("1:00", "screen Disk"),
            ("1:05", "keep swap = file | offered none, file"),
        )
        self.ok("end", "--at", "2:00")
        self.ok("begin", "larkmoor-8.0-heron", "--like", plan)
        self.assertEqual(self.json("status")["next"], "Language")
        self.ok("cue", "screen Language")
        self.assertIn("next         “Disk”, as in larkmoor-8.0-heron-1; it took 1:00", self.ok("status"))
        self.assertRegex(
            self.ok("next", "--same"), r"screen Disk \| kind disk\n.*keep swap = file \| offered none, file\n$"
        )
        self.assertIn("no screen after this one", self.refused(2, "next"))
        self.ok("end")
        self.ok("begin", "larkmoor-8.0-heron")
        self.assertIn("has no plan", self.refused(2, "next"))

    def test_a_release_is_a_plan_too_and_leaving_it_is_told_at_once(self) -> None:
        self.record("10:00", ("0:00", "screen Language"), ("1:00", "screen Disk"), ("1:05", "keep swap = none"))
        self.ok("end", "--at", "2:00")
        self.assertIn("did you mean", self.refused(2, "begin", "larkmoor-8.0-heron", "--like", "larkmoor-8.0-hern"))
        run = self.ok("begin", "larkmoor-8.0-heron", "--like", "larkmoor-8.0-heron").split()[0]
        self.assertEqual(self.json("status")["next"], "Language")
        said = self.ok("cue", "screen Disk").splitlines()
        self.assertEqual(said[1:], [f"{run}  off the plan: The screen “Language” was skipped."])
        said = self.ok("cue", "keep swap = file").splitlines()
        self.assertEqual(said[1], f"{run}  off the plan: swap is pre-set differently: file, not none.")
        self.assertEqual(self.ok("cue", "note all else is as it was").count("\n"), 1)

    def test_a_logbook_from_nothing(self) -> None:
        self.assertIn("is a logbook now", self.ok("init", "reviews", "--within"))
        self.assertIn("nothing was changed", self.ok("init", "reviews"))
        self.ok("release", "new", "larkmoor-9.0-beta-wren", "--logbook", "reviews")
        card = self.json("release", "show", "larkmoor-9.0-beta-wren", "--logbook", "reviews")
        self.assertEqual((card["version"], card["edition"], card["status"]), ("9.0", "Wren", "beta"))
        self.ok("rig", "new", "bench-vm", "--firmware", "uefi", "--logbook", "reviews")
        self.assertIn("the clock runs", self.ok("begin", "larkmoor-9.0-beta-wren", "--logbook", "reviews"))

    def test_cards(self) -> None:
        shown = self.json("release", "show", "larkmoor-8.0-heron")
        self.assertEqual([shown[key] for key in ("distribution", "version", "edition", "released")],
                         ["Larkmoor", "8.0", "Heron", "2026-04-28"])  # fmt: skip
        self.ok("release", "new", "larkmoor-8.0-heron", "--update", "--image-size", "2.5 GiB")
        self.assertIn("2.5 GiB", self.ok("release", "show", "larkmoor-8.0-heron"))
        self.ok("rig", "new", "this-one", "--here", "--notes", "[kettle]")
        self.assertEqual([card["id"] for card in self.json("rig", "list")["cards"]], ["bench-vm", "this-one"])
        self.assertIn("this-one\t", self.ok("rig", "list"))


class Demo(unittest.TestCase):
    def test_the_demo_is_made_shown_and_drawn(self) -> None:
        import tempfile

        with tempfile.TemporaryDirectory() as name:
            folder = Path(name)
            done = call("demo", "--no-scan", folder=folder)
            self.assertEqual((done.returncode, done.stderr), (0, ""))
            self.assertIn("swap is no longer pre-set to none but to file.", done.stdout)
            self.assertTrue((folder / "metrograph-demo/lanes.png").read_bytes().startswith(b"\x89PNG"))
            self.assertEqual(call("demo", folder=folder).returncode, 2)
            taken, own = (
                folder / "metrograph-demo/runs/larkmoor-9.0-heron-1.metro",
                folder / "metrograph-demo/runs/own-1.metro",
            )
            for path, source in ((taken, "larkmoor-9.0-heron.mp4"), (own, "another.mp4")):
                path.write_text(
                    f"metrograph 1\nrelease: larkmoor-9.0-heron\nrig: bench-vm\nbegun: 2026-05-02T10:00:00Z\nsource: {source}\n\n"
                )
            self.assertEqual(call("demo", "--force", "--no-scan", folder=folder).returncode, 0)
            self.assertEqual((taken.exists(), own.exists()), (False, True))  # else its film could not be taken again
            own.unlink()
            book = {"METROGRAPH_LOGBOOK": str(folder / "metrograph-demo")}
            shown = json.loads(call("show", "larkmoor-8.0-heron-2", "--json", folder=folder, variables=book).stdout)
            self.assertEqual([attempt["failed"] for attempt in shown["attempts"]], ["no disk to install on", None])
            self.assertEqual(shown["clock"]["lost"], [687, 687])
            lint = json.loads(call("lint", "--json", folder=folder, variables=book).stdout)
            self.assertEqual({fault["message"] for fault in lint["faults"]}, {"this issue was never fixed"})
            drawn = call(
                "draw", "lanes", "larkmoor-8.0-heron", "-o", "x.svg", "--line-up", "copy", folder=folder, variables=book
            )
            self.assertEqual((drawn.returncode, drawn.stdout), (0, "x.svg drawn\n"))
