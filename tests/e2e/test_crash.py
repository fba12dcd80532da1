"""Crashes: whatever is killed whenever, every acknowledged cue is in the log, whole and once."""

import os
import random
import signal
import subprocess
import sys
import time
from pathlib import Path

from tests.e2e.case import LogbookCase

WRITERS, ROUNDS = 4, 12


class Kills(LogbookCase):
    def test_cues_killed_at_random_while_several_write(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron")
        command = Path(sys.executable).with_name("metrograph")
        # Whoever is killed must not be in the middle of writing down its coverage.
        clean = {key: value for key, value in os.environ.items() if not key.startswith("COVERAGE")}
        chance = random.Random(20261123)
        acknowledged: list[str] = []
        killed = 0
        for turn in range(ROUNDS):
            names = [f"cue {turn}-{writer}" for writer in range(WRITERS)]
            writers = [
                subprocess.Popen([command, "cue", f"note {name} | x-long {'y' * 500}"], cwd=self.folder, env=clean,
                                 stdout=subprocess.PIPE, stderr=subprocess.DEVNULL, text=True)
                for name in names
            ]  # fmt: skip
            # The last of each round is left alone, so that some always get through whatever the machine's speed.
            for writer in writers[:-1]:
                time.sleep(chance.uniform(0, 0.15))
                writer.send_signal(signal.SIGKILL)
            for name, writer in zip(names, writers, strict=True):
                said, _ = writer.communicate()
                killed += writer.returncode == -signal.SIGKILL
                if said.endswith("\n"):
                    acknowledged.append(name)
        lines = self.log().splitlines()
        for name in acknowledged:
            places = [index for index, line in enumerate(lines) if line.endswith(f" note {name}")]
            self.assertEqual(len(places), 1, name)
            self.assertEqual(lines[places[0] + 1], "    x-long: " + "y" * 500)
        self.assertGreaterEqual(len(acknowledged), ROUNDS)
        self.assertGreaterEqual(killed, ROUNDS)
        self.assertEqual([each for each in self.json("lint")["faults"] if each["level"] == "error"], [])
        self.ok("cue", "note still writable")
