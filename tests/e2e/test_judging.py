"""For whom, what is on board, what is published and what is left to do, through the commands, on the demo."""

import json
import re
import unittest

from tests.e2e.case import OwnDemoCase
from tests.helpers import call, call_here

EIGHT, WREN, SEVEN, OSTERBY = "larkmoor-8.0-heron", "larkmoor-8.0-wren", "larkmoor-7.0-heron", "osterby-2026.1"


class OnTheDemo(OwnDemoCase):
    def order(self, *words: str) -> list[str]:
        return [each["release"] for each in self.json("shortlist", *words)["order"] if each["passes"] is not False]

    def test_two_readers_want_different_ones_and_one_figure_would_settle_it(self) -> None:
        self.assertEqual(self.order("--for", "hand-out")[0], SEVEN)
        # The final as it was watched: quick, and nobody tried a printer or read the memory.
        watched = "metrograph 1\nrelease: larkmoor-9.0-heron\nrig: bench-vm\nbegun: 2026-11-14T10:00:00+01:00\n\n0:00 screen Disk\n3:00 wait\n9:00 phase desktop\n10:00 end done\n"
        (self.book.runs / "larkmoor-9.0-heron-1.metro").write_text(watched)
        self.assertEqual(self.order("--for", "workshop")[0], "larkmoor-9.0-heron")
        made = self.json("shortlist", "--for", "hand-out")
        self.assertFalse(made["is_sure"])
        (best, *_) = made["measure_next"]
        self.assertEqual((best["release"], best["wish"], best["runs"]), ("larkmoor-9.0-heron", "printer", 0))
        self.assertGreater(best["sure"], 0.9)
        self.assertIn(
            "One trial of printer under Larkmoor Heron 9.0 would settle it in",
            self.ok("shortlist", "--for", "hand-out"),
        )

    def test_what_is_left_out_is_named_with_its_figure(self) -> None:
        said = self.ok("shortlist", "--for", "hand-out")
        self.assertIn(
            "Larkmoor Heron 9.0 beta: 2 requirements not met: status: stable (beta) and downloaded in all <= 4 GB (4343 MB).",
            said,
        )
        self.assertIn("Osterby 2026.1: 1 requirement not met: carries office (no office).", said)

    def test_neither_the_order_of_names_nor_a_second_call_changes_anything(self) -> None:
        names = [SEVEN, EIGHT, WREN, OSTERBY]
        first = self.ok("shortlist", *names, "--for", "workshop", "--json")
        self.assertEqual(first, self.ok("shortlist", *reversed(names), "--for", "workshop", "--json"))
        self.assertNotEqual(first, self.ok("shortlist", *names, "--for", "workshop", "--seed", "5", "--json"))

    def test_what_is_wrong_with_a_reader_is_told_with_file_and_line(self) -> None:
        settings = self.book.path / "metrograph.toml"
        text = settings.read_text()
        lines = text.count("\n")
        for wish, told in {
            '"memory" = 1': "“memory” was read in several states; expected: memory (live) or memory (installed) or memory (updated)",
            '"packages" = 1': "nobody has said whether more or less “packages” is better; expected: from and to",
            '"installed" = { from = "5 GiB", to = "1 GiB" }': "“installed” is not measured in that; expected: a time such as 20:00",
            '"printer" = { from = "1", to = "2" }': "“printer” is not measured in that; expected: no from and to",
        }.items():
            settings.write_text(f"{text}\n[readers.one.wishes]\n{wish}\n")
            done = call_here("shortlist", "--for", "one", folder=self.book.path)
            self.assertEqual((done.returncode, done.stdout), (2, ""))
            self.assertIn(f"metrograph.toml:{lines + 3}: {told}", done.stderr)
        settings.write_text(text + '\n[readers.one]\nrequired = [\n  "printr: pass",\n]\n')
        done = call_here("shortlist", "--for", "one", folder=self.book.path)
        self.assertIn(
            f"metrograph.toml:{lines + 4}:1: warning: nobody has noted anything called “printr”, so it counts as unknown; expected: printer",
            done.stderr,
        )
        self.assertEqual(done.returncode, 0)
        settings.write_text(text + "\n[readers.one]\nrequired = 3\n")
        self.assertIn(
            f"metrograph.toml:{lines + 3}:1: error: “required” of the reader “one” is no list",
            call_here("lint", folder=self.book.path).stdout,
        )
        for words, told in {
            ("shortlist",): "say for whom with --for; expected: hand-out or workshop",
            ("shortlist", "--for", "hand-uot"): "did you mean hand-out",
            ("shortlist", "larkmor", "--for", "hand-out"): "there is no release “larkmor”",
        }.items():
            settings.write_text(text)
            self.assertIn(told, call_here(*words, folder=self.book.path).stderr)

    def test_readers_are_written_and_listed(self) -> None:
        self.ok(
            "readers",
            "new",
            "old-laptop",
            "--about",
            "Has little",
            "--require",
            "memory (installed) <= 1 GiB",
            "--wish",
            "hands-on weight 3 from 20:00 to 5:00",
            "--wish",
            "printer",
        )
        reader = self.json("readers")["readers"][-1]
        self.assertEqual(
            reader,
            {"name": "old-laptop", "about": "Has little", "required": ["memory (installed) <= 1 GiB"], "weights": 1.5,
             "wishes": [{"name": "hands-on", "weight": 3.0, "from": "20:00", "to": "5:00"}, {"name": "printer", "weight": 1.0, "from": None, "to": None}]},
        )  # fmt: skip
        self.assertIn("# Those who mend and install them.", (self.book.path / "metrograph.toml").read_text())
        self.assertEqual(self.order("--for", "old-laptop")[0], SEVEN)
        again = call("readers", "new", "old-laptop", "--wish", "printer", folder=self.book.path)
        self.assertEqual((again.returncode, "already" in again.stderr), (2, True))

    def test_cards_alone(self) -> None:
        rows = {
            (row["of"], row["name"]): row["values"]
            for row in self.json("release", "compare", EIGHT, "larkmoor-9.0-heron")["rows"]
        }
        self.assertEqual(rows["with the welcome tour", "display"], [None, "1280x800"])
        self.assertEqual(rows["", "kernel"], ["7.2", "7.5"])
        said = self.ok("release", "compare", "larkmoor-9.0-heron", EIGHT)
        self.assertTrue(
            said.startswith(
                "Larkmoor Heron\n\n9.0 differs from 8.0 in image (134 MiB more) and minimum disk (5 GB more).\n"
            ),
            said,
        )

    def test_needs_tools_and_news_are_written_by_option(self) -> None:
        self.ok(
            "release",
            "new",
            "moor-1.0",
            "--need",
            "text only: memory 512 MB, processors 2",
            "--tool",
            "Writewell 5.0",
            "--news",
            "Faster",
        )
        self.ok(
            "release", "new", "moor-1.0", "--update", "--tool", "Sheetwell 5", "--need", "text only: display 800x600"
        )
        card = self.json("release", "show", "moor-1.0")
        self.assertEqual(card["tools"], {"Writewell": "5.0", "Sheetwell": "5"})
        self.assertEqual(
            (card["needs"]["text only"]["processors"], card["needs"]["text only"]["display"]), (2, "800x600")
        )
        for tool in ("Amber (package helper)", "Amber", "Amber 5 = 6\n[needs]", "5"):
            wrong = call("release", "new", "moor-2", "--tool", tool, folder=self.book.path)
            self.assertEqual(wrong.returncode, 2, tool)
            self.assertIn("has a wrong value; expected", wrong.stderr)
        self.assertFalse((self.book.path / "releases/moor-2.toml").exists())
        wrong = call("release", "new", "moor-2", "--need", "text only: frogs 3", folder=self.book.path)
        self.assertIn("nothing is needed of “frogs”; expected: memory, disk, processors, display", wrong.stderr)
        (self.book.path / "releases/moor-1.0.toml").write_text(
            '[needs."text only"]\nmemroy = 3\n[needs."a.b"]\nmemory = "1 GiB"\n'
        )
        found = [
            (fault["line"], fault["message"])
            for fault in json.loads(
                call_here("lint", "releases/moor-1.0.toml", "--json", folder=self.book.path).stdout
            )["faults"]
        ]
        self.assertEqual(found, [(2, "“needs.text only” has no “memroy”"), (3, "“a.b” has a dot in it")])

    def test_a_limit_is_kept_in_its_own_units(self) -> None:
        said = self.ok("weight", SEVEN, EIGHT, OSTERBY, "--limit", "2.8 GB").partition("\n\nWeight")[0]
        self.assertIn(
            "Larkmoor Heron 7.0 keeps to 2.8 GB, Larkmoor Heron 7.0 with 10.8 MB to spare. Of Osterby 2026.1 it cannot be said, as a part was not noted.",
            said,
        )
        self.assertNotIn("iB", said)
        self.assertEqual(
            [fit["fits"] for fit in self.json("weight", SEVEN, EIGHT, "--limit", "2.8 GB")["fits"]], [True, False]
        )
        self.assertEqual(call("weight", "--limit", "many", folder=self.book.path).returncode, 2)

    def test_what_is_left_to_do_is_told_and_ticked_off(self) -> None:
        self.assertIn(
            "Larkmoor Heron 8.0, run 4: Try the printer again once the final of 9.0 is out (for workshop)",
            self.ok("todos"),
        )
        wanted = {each["release"]: each for each in self.json("todos")["wanted"]}
        self.assertEqual(
            (wanted[SEVEN]["to_tweak"], wanted[SEVEN]["to_add"], wanted[SEVEN]["to_try"]), ([], [], ["suspend"])
        )
        self.assertEqual(wanted[EIGHT]["to_add"], ["video codecs"])
        call("begin", EIGHT, "--rig", "bench-vm", folder=self.book.path)
        self.assertIn("to tweak     screen size", self.ok("status"))
        call("cue", "tweak screen size set", folder=self.book.path)
        call("cue", "todo Look again", folder=self.book.path)
        self.assertNotIn("to tweak", self.ok("status"))
        ended = self.ok("end")
        self.assertIn("the usual addition “video codecs” was not made", ended)
        self.assertIn("Left to do:\n  Look again\n", ended)

    def test_markdown_is_an_article_in_its_order(self) -> None:
        self.ok("report", SEVEN, EIGHT, "-o", "a.md")
        text = (self.book.path / "a.md").read_text()
        headings = re.findall(r"^## (.+)$", text, re.MULTILINE)
        self.assertEqual(
            [heading for heading in headings if "run" not in heading],
            [
                "In short",
                "At a glance",
                "Read with care",
                "What is new",
                "Installing it",
                "First start",
                "Software",
                "Weight",
                "Trouble",
                "Verdict",
                "For whom",
            ],
        )
        for name in re.findall(r"\]\((a-[\w-]+\.svg)\)", text):
            self.assertTrue((self.book.path / name).is_file(), name)
        self.assertIn("![Shortlist](a-shortlist-hand-out.svg)", text)

    def test_the_page_has_a_shortlist_for_the_readers_that_are_asked_for(self) -> None:
        self.ok("report", SEVEN, EIGHT, "--for", "workshop", "-o", "a.html")
        page = (self.book.path / "a.html").read_text()
        self.assertIn("For workshop: The workshop&#39;s own volunteers", page)
        self.assertNotIn("For hand-out", page)
        wrong = call("report", SEVEN, EIGHT, "--for", "nobody", "-o", "a.html", folder=self.book.path)
        self.assertEqual(wrong.returncode, 2)

    def test_a_hostile_reader_harms_nobody(self) -> None:
        settings = self.book.path / "metrograph.toml"
        with settings.open("a") as file:
            file.write(
                '\n[readers."../../x"]\nabout = "a"\nrequired = ["a: b"]\n[readers.x]\nabout = "<script>alert(1)</script>\\u001b[31m"\nwishes = { "<img src=x>" = 1, printer = 1 }\n'
            )
        done = call_here("shortlist", "--for", "x", folder=self.book.path)
        self.assertNotIn("\x1b", done.stdout + done.stderr)
        call_here("report", SEVEN, EIGHT, "-o", "b.html", folder=self.book.path)
        page = (self.book.path / "b.html").read_text()
        self.assertNotIn("<script>alert", page)
        self.assertNotIn("<img src=x>", page)


if __name__ == "__main__":
    unittest.main()
