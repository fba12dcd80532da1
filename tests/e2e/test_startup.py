"""Starting: a cue loads little, and its time is that of the start of its process."""

import subprocess
import sys
import time
from pathlib import Path

from metrograph.log.quantities.times import parse_time
from tests.e2e.case import LogbookCase

HEAVY = {"numpy", "scipy", "pandas", "matplotlib", "textual", "rich", "rapidfuzz", "pydantic", "tomlkit", "asyncio",
         "av", "PIL", "tesserocr", "pyte", "cryptography", "textual_image"}  # fmt: skip


class Startup(LogbookCase):
    def loaded_by(self, *words: str) -> set[str]:
        """The packages that are loaded when a command is over."""
        script = (
            f"import sys; sys.argv = {['metrograph', *words]}\n"
            "from metrograph.faces.cli.main import app\n"
            "app(standalone_mode=False)\n"
            "print(*sys.modules)"
        )
        done = subprocess.run(
            [sys.executable, "-c", script], cwd=self.folder, capture_output=True, text=True, check=True
        )
        names = done.stdout.splitlines()[-1].split()
        return {".".join(name.split(".")[: 2 if name.startswith("metrograph.") else 1]) for name in names}

    def test_a_cue_loads_none_of_the_heavy_packages(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron")
        loaded = self.loaded_by("cue", "screen", "Language")
        self.assertIn("screen Language", self.log())
        self.assertEqual(loaded & {*HEAVY, "metrograph.run"}, set())

    def test_a_list_of_runs_loads_nothing_that_computes_on_pictures(self) -> None:
        self.assertEqual(self.loaded_by("runs") & {"numpy", "scipy", "matplotlib", "PIL", "av"}, set())

    def test_the_time_of_a_cue_is_that_of_the_process_however_long_it_loads(self) -> None:
        self.ok("begin", "larkmoor-8.0-heron")
        command = Path(sys.executable).with_name("metrograph")
        # The process works before it comes to the command, as if loading took two seconds.
        script = (
            "import runpy, sys, time\n"
            "while time.process_time() < 2: pass\n"
            "sys.argv = ['metrograph', 'cue', 'wait']\n"
            f"runpy.run_path('{command}', run_name='__main__')"
        )
        anchor = float(next(line for line in self.log().splitlines() if line.startswith("clock:")).split()[2])
        before = time.clock_gettime(time.CLOCK_BOOTTIME)
        done = subprocess.run(
            [sys.executable, "-c", script], cwd=self.folder, capture_output=True, text=True, check=True
        )
        stamp = anchor + (parse_time(done.stdout.split()[1]) or 0) / 1000
        self.assertLess(abs(stamp - before), 1)
