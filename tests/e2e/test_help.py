"""Help: every command has it, with examples, and stands in the documents."""

import os
import pty
import re
import subprocess
import sys
import unittest
from functools import cache
from pathlib import Path

from typer.testing import CliRunner

from metrograph.faces.cli.main import app
from metrograph.faces.cli.manual import manual
from tests.helpers import ROOT, call

COMMANDS = [
    ["init"], ["release", "new"], ["release", "list"], ["release", "show"], ["release", "check-image"], ["release", "compare"], ["rig", "new"], ["rig", "list"], ["rig", "show"],
    ["settings"],
    ["begin"], ["record"], ["cue"], ["shot"], ["next"], ["import", "notes"], ["import", "json"], ["import", "csv"], ["undo"], ["mend"], ["status"], ["watch"], ["boot"], ["scan"], ["hear"], ["confirm"], ["probe"], ["attach"], ["end"], ["runs"], ["edit"], ["lint"], ["show"], ["compare"], ["summary"], ["review"], ["issues"], ["effort"], ["trend"], ["kinship"], ["readings"], ["checks"], ["facts"], ["claims"], ["weight"], ["software"], ["verdicts"], ["todos"], ["readers"], ["readers", "new"], ["shortlist"], ["draw", "lanes"], ["draw", "strip"], ["draw", "lead"], ["draw", "timetable"], ["draw", "album"], ["draw", "shortlist"], ["draw", "trend"], ["draw", "kinship"], ["report"], ["export", "json"], ["export", "csv"], ["export", "parquet"], ["export", "chapters"], ["export", "md"], ["share"], ["archive", "build"], ["archive", "check"], ["archive", "repair"], ["archive", "query"], ["archive", "list"], ["archive", "fetch"], ["archive", "take-back"], ["demo"],
]  # fmt: skip


@cache
def help_of(*words: str) -> str:
    """What a command says of itself; asked in this process, as forty others would take their time."""
    done = CliRunner().invoke(app, [*words, "--help"], prog_name="metrograph", env={"COLUMNS": "80"})
    if done.exit_code or done.stderr:
        raise AssertionError(words, done.output)
    return done.stdout


class Help(unittest.TestCase):
    def test_the_guide_and_the_readme_use_commands_and_options_that_there_are(self) -> None:
        known = {" ".join(words): help_of(*words) for words in COMMANDS}
        for document in ("README.md", "docs/guide.md"):
            lines = re.findall(r"^(?:\.venv/bin/)?metrograph (.*)$", (ROOT / document).read_text(), re.MULTILINE)
            self.assertGreater(len(lines), 5)
            for line in lines:
                plain = line.split("#")[0]
                name = next(name for name in sorted(known, key=len, reverse=True) if f"{plain} ".startswith(f"{name} "))
                for option in re.findall(r"(?<= )(--[a-z-]+)", plain):
                    self.assertRegex(known[name], rf"(?m)^  (-\w, )?{option}\b", f"{document}: {line}")

    def test_the_list_above_is_all_there_is(self) -> None:
        listed = re.findall(r"^  ([a-z]+) +\S", call("--help", folder=ROOT).stdout.split("Commands:")[1], re.MULTILINE)
        self.assertEqual(listed, list(dict.fromkeys(words[0] for words in COMMANDS)))

    def test_every_command_has_help_with_examples_and_is_documented(self) -> None:
        documents = (ROOT / "docs/commands.md").read_text()
        for words in COMMANDS:
            told = help_of(*words)
            self.assertIn("Examples:", told)
            self.assertLessEqual(max(map(len, told.splitlines())), 92, words)
            self.assertIn(f"### `metrograph {' '.join(words)}", documents)
            for option in re.findall(r"^  (?:-\w, )?(--[a-z-]+)", told, re.MULTILINE):
                if option != "--help":
                    section = documents.split(f"### `metrograph {' '.join(words)}")[1].split("\n### ")[0]
                    self.assertIn(f"`{option}", section, words)

    def test_the_installed_command_says_the_same(self) -> None:
        done = call("cue", "--help", folder=ROOT)
        self.assertEqual((done.returncode, done.stderr, done.stdout.split()), (0, "", help_of("cue").split()))

    def test_the_manual_page_is_what_the_commands_say(self) -> None:
        self.assertEqual((ROOT / "docs/metrograph.1").read_text(), manual(), "make man writes it anew")

    def test_version_and_unknown_commands(self) -> None:
        self.assertRegex(call("--version", folder=ROOT).stdout, r"^metrograph \d+\.\d+\.\d+\n$")
        done = call("comparre", folder=ROOT)
        self.assertEqual((done.returncode, done.stdout), (2, ""))
        self.assertIn("no command “comparre”; did you mean compare?", done.stderr)
        self.assertNotIn("...", call("--help", folder=ROOT).stdout.split("Commands:")[1])

    def test_completion_knows_commands_and_runs(self) -> None:
        variables = {"_METROGRAPH_COMPLETE": "complete_bash", "COMP_WORDS": "metrograph comp", "COMP_CWORD": "1"}
        self.assertEqual(call(folder=ROOT, variables=variables).stdout.split(), ["compare"])
        variables |= {"COMP_WORDS": "metrograph show larkmoor-8", "COMP_CWORD": "2"}
        variables |= {"METROGRAPH_LOGBOOK": str(ROOT / "src/metrograph/demo")}
        self.assertEqual(call(folder=ROOT, variables=variables).stdout.split(), [])
        variables |= {"COMP_WORDS": "metrograph trend de", "COMP_CWORD": "2"}
        self.assertEqual(call(folder=ROOT, variables=variables).stdout.split(), ["desktop", "decisions"])

    def test_colour_only_on_a_terminal_and_only_when_wanted(self) -> None:
        log = str(ROOT / "src/metrograph/demo/logbook/runs/larkmoor-7.0-heron-1.metro")
        self.assertNotIn("\x1b", call("show", log, folder=ROOT).stdout)
        self.assertIn("\x1b[", on_terminal(log, {}))
        self.assertNotIn("\x1b", on_terminal(log, {"NO_COLOR": "1"}))


def on_terminal(log: str, variables: dict[str, str]) -> str:
    """What `show` prints on a terminal."""
    master, slave = pty.openpty()
    command = Path(sys.executable).with_name("metrograph")
    environment = (
        {key: value for key, value in os.environ.items() if key != "NO_COLOR"} | {"TERM": "xterm-256color"} | variables
    )
    with subprocess.Popen([command, "show", log], stdout=slave, stderr=slave, env=environment, cwd=ROOT) as process:
        os.close(slave)
        output = b""
        try:
            while chunk := os.read(master, 65536):
                output += chunk
        except OSError:
            pass  # the other end is closed: the process is done
        process.wait(timeout=30)
    os.close(master)
    return output.decode()
