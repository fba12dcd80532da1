"""What every source has in common: its times on the run's clock, nothing twice, nothing half, nothing outside the run."""

import ast
import hashlib
import unittest
from datetime import UTC, datetime, timedelta
from typing import Any

from metrograph.core.errors import MetrographError
from metrograph.intake.notes import Notes
from metrograph.intake.probed import ProbeFile, read_probed
from metrograph.intake.source import KeptPicture, Source, Timing, ingest
from metrograph.log.cues import Cue, Header
from metrograph.store.clock import Instant, When
from metrograph.store.local.checksums import Picture
from metrograph.store.memory import MemoryStore
from metrograph.store.reading import LogReader
from metrograph.store.settings import usual_settings
from metrograph.watch.drafts.proposals import Watched
from metrograph.watch.screens.spans import Span
from tests.helpers import ROOT
from tests.intake.probed import written

BEGUN = Instant(datetime(2026, 5, 2, 10, 0, 0, tzinfo=UTC), "aaaa", 0.0)
NOW = Instant(BEGUN.wall + timedelta(minutes=30), "aaaa", 1800.0)
RUN = "larkmoor-8.0-heron-1"


def sources(minute: int) -> dict[str, Source]:
    """Each source, with what it says at a minute of the run, be that within it or not."""
    wall = BEGUN.wall + timedelta(minutes=minute)
    picture = Picture(f"images/{RUN}/1.png", hashlib.sha256(b"x").hexdigest(), wall.timestamp())
    seen = Span(
        max(minute, 0) * 60_000, max(minute, 0) * 60_000 + 30_000, "Disk", "disk", points=3.0, margin=2.0, read=0.96
    )
    return {
        "notes": Notes(f"{max(minute, 0)}:00 screen Disk\n".encode(), "notes.txt", as_cues=True),
        "probe": ProbeFile(read_probed(written(taken=wall.isoformat()), "facts.json")),
        "picture": KeptPicture(picture),
        "film": Watched([seen], usual_settings().lexicon, "the film", ended=False),
    }


def _names(node: ast.stmt) -> list[str]:
    """What a line of a class gives a name to."""
    if isinstance(node, ast.FunctionDef):
        return [node.name]
    targets = [node.target] if isinstance(node, ast.AnnAssign) else node.targets if isinstance(node, ast.Assign) else []
    return [target.id for target in targets if isinstance(target, ast.Name)]


class Sources(unittest.TestCase):
    def test_these_are_all_that_there_are(self) -> None:
        found = {
            node.name
            for module in (ROOT / "src/metrograph").rglob("*.py")
            for node in ast.parse(module.read_text()).body
            if isinstance(node, ast.ClassDef)
            and {"outside", "events"} <= {name for each in node.body for name in _names(each)}
        }
        self.assertEqual(found - {"Source"}, {type(source).__name__ for source in sources(0).values()})

    def setUp(self) -> None:
        self.store = MemoryStore()
        self.store.begin(Header("larkmoor-8.0-heron", "bench-vm", BEGUN.wall), BEGUN)

    def cues(self) -> tuple[Cue, ...]:
        return LogReader(self.store).log(RUN).cues

    def test_each_is_written_once_at_its_time(self) -> None:
        for name, source in sources(12).items():
            first, again = (ingest(self.store, RUN, source, Timing(NOW)) for _ in range(2))
            self.assertEqual({cue.at for cue in first.written}, {720_000}, name)
            self.assertEqual((again.cues, again.written), (first.cues, ()), name)
        self.assertEqual([cue.verb for cue in self.cues()][:2], ["screen", "fact"])

    def test_a_person_may_say_another_time(self) -> None:
        for name, source in sources(12).items():
            found = ingest(self.store, RUN, source, Timing(NOW, said="4:10"))
            self.assertEqual({cue.at for cue in found.cues}, {250_000}, name)

    def test_what_was_mended_in_the_log_or_the_file_is_not_written_twice(self) -> None:
        def take(text: str, **timing: Any) -> Any:
            return ingest(self.store, RUN, Notes(text.encode(), "n.txt", as_cues=True), Timing(NOW, **timing))

        take("0:10 screeen Disk\n0:15 choose swap = file\n")
        mended = self.store.read(RUN).replace(b"swap = file", b"swap = partition")
        self.store.put(RUN, mended, self.store.label(RUN))
        found = take("0:10 screen Disk\n0:15 choose swap = file\n0:15 wait\n")
        self.assertEqual([cue.verb for cue in found.written], ["screen", "wait"])
        self.assertEqual([(cue.verb, other.verb, other.text) for cue, other in found.mended],
                         [("choose", "choose", "partition")])  # fmt: skip

    def test_a_file_that_was_edited_changes_what_it_said(self) -> None:
        def take(text: str, name: str = "n.txt") -> list[tuple[int, str]]:
            found = ingest(self.store, RUN, Notes(text.encode(), name), Timing(NOW))
            self.changed = [(old.text, new and new.text) for old, new in found.changed]
            return [(cue.at // 1000, cue.text) for cue in LogReader(self.store).log(RUN).by_time()]

        take("0:10 one\n0:20 two\n0:30 three\n0:40 four\n")
        edited = take("0:10 one\n0:20 two and a half\n0:35 three\n0:50 five\n")
        self.assertEqual(edited, [(10, "one"), (20, "two and a half"), (35, "three"), (50, "five")])
        self.assertEqual(self.changed, [("two", "two and a half"), ("three", "three"), ("four", None)])
        self.store.put(RUN, self.store.read(RUN).replace(b"two and", b"2 and"), self.store.label(RUN))
        self.assertEqual(take("0:10 one\n0:20 two!\n0:35 three\n0:50 five\n")[1], (20, "2 and a half"))
        another = take("5:00 next day\n")  # most of what was taken is not in it: nothing of that is touched
        self.assertEqual((len(another), self.changed), (5, []))
        self.assertEqual(len(take("0:10 one\n", "other.txt")), 5)  # another file says the same at the same moment

    def test_a_cut_of_unknown_length_becomes_one_of_the_run(self) -> None:
        notes = Notes(b"0:10 screen Disk\n0:50 wait\n", "n.txt", as_cues=True)
        found = ingest(self.store, RUN, notes, Timing(NOW, starts=-5000, loose=((30_000, "5:00..6:00"), (1000, "?"))))
        self.assertEqual([(cue.at, cue.verb, cue.text) for cue in found.written],
                         [(5000, "screen", "Disk"), (25_000, "cut", "5:00..6:00"), (45_000, "wait", "")])  # fmt: skip

    def test_a_dry_run_writes_nothing(self) -> None:
        for source in sources(12).values():
            found = ingest(self.store, RUN, source, Timing(NOW), dry_run=True)
            self.assertEqual((len(found.cues) > 0, found.written), (True, ()))
        self.assertEqual(self.cues(), ())

    def test_what_was_not_within_the_run(self) -> None:
        self.store.append(RUN, [Cue(1_500_000, "end", None, "done")], When(NOW, given=True))
        before = self.store.read(RUN)
        for minute in (-5, 28):
            with self.assertRaisesRegex(MetrographError, "did not run within the run"):
                ingest(self.store, RUN, sources(minute)["probe"], Timing(NOW))
        with self.assertRaisesRegex(MetrographError, "ended at 25:00"):
            ingest(self.store, RUN, sources(26)["notes"], Timing(NOW))
        self.assertEqual(self.store.read(RUN), before)

    def test_a_picture_from_another_day_counts_as_taken_now(self) -> None:
        for minute in (-600, 600):
            found = ingest(self.store, RUN, sources(minute)["picture"], Timing(NOW), dry_run=True)
            self.assertEqual([cue.at for cue in found.cues], [1_800_000])

    def test_of_several_events_all_or_none_are_written(self) -> None:
        self.store.append(RUN, [Cue(1_500_000, "end", None, "done")], When(NOW, given=True))
        notes = Notes(b"1:00 screen Disk\n26:00 wait\n", "notes.txt")
        with self.assertRaises(MetrographError):
            ingest(self.store, RUN, notes, Timing(NOW))
        self.assertEqual([cue.verb for cue in self.cues()], ["end"])
