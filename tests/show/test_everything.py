"""Whatever can be written in a log comes out: every verb with all its fields, in one run's view and on the page."""

import html
import re
import unittest

from metrograph.compare.flow_records import Side
from metrograph.ledgers.comparison import compare
from metrograph.log.cues import Log
from metrograph.log.verbs import COMMON, VERBS
from metrograph.show.charts.layouts.lanes_layout import lay_lanes
from metrograph.show.page.page_writer import write as write_page
from metrograph.show.report.comparing.comparison_report import comparison_report
from metrograph.show.report.comparing.material import Material
from metrograph.show.report.model import Drawing
from metrograph.show.terminal.text import Medium
from tests.helpers import log_of, run_of
from tests.shown import show_run

LOG = f"""
    0:00 screen title-a
        kind: other
        text: text-b
    0:01 keep key-c = value-d
        offered: offered-e
        why: why-f
    0:02 choose key-g = value-h
        was: was-i
        offered: offered-j
        why: why-k
    0:03 enter key-l = value-m
        was: was-n
        why: why-o
    0:04 layout method-p
        table: table-q
        disk: 25 GiB
        part: /mount-r ext4 19 GiB
        swap: file 3 GiB hibernate
        crypt: crypt-s
        loader: loader-t
    0:05 wait wait-u
    0:06 ready
    0:07 issue issue-v: summary-w
        severity: minor
        area: area-x
        detail: detail-y
        link: link-z
        of: of-ca
        only: only-cb
    0:08 tried issue-v: tried-aa
        command: command-ab
    0:09 fix issue-v: fix-ac
        command: command-ad
    0:10 issue lost-ae: summary-af
    0:11 fail failed-ag
        issue: lost-ae
    0:12 retry from title-a
        changed: changed-ah
    0:19 close
    0:20 screen Desktop
    0:21 phase desktop
    0:22 task task-ai: told-aj
    0:23 done task-ai
        how: how-ak
    0:24 reading noise = 31 dB
        load: load-al
        against: against-am
        state: state-an
        how: how-ao
        of: of-cc
        only: only-cd
    0:25 fact key-ap = value-aq
        of: of-ce
        only: only-cf
    0:26 check name-ar: partly
        with: with-as
        detail: detail-at
        of: of-cg
        only: only-ch
    0:27 rate name-au = 7 of 10
        why: why-av
        of: of-ci
    0:27 praise praise-cj
        why: why-ck
        of: of-cl
    0:27 dislike dislike-cm
        why: why-cn
        of: of-co
    0:27 than than-cp: thing-e less
        why: why-cq
        of: of-cr
    0:27 same same-cs: but but-ct
    0:27 ask ask-cu: question-cv
    0:27 answer ask-cu: answer-f
    0:28 tweak tweak-aw
        why: why-ax
        command: command-ay
    0:29 add software-az
        download: 48 MiB
        disk: 96 MiB
        frees: 7 MiB
        groups: groups-ba
        from: source-bb
        why: why-bc
        instead: instead-cw
        of: of-cx
        only: only-cy
    0:30 carries group-bd: item-be 7.4
        from: source-bf
        why: why-bg
        instead: instead-cz
        of: of-da
        only: only-db
    0:31 lacks group-bh: item-bi
        why: why-bj
        of: of-dc
        only: only-dd
    0:32 shot shots/bk.png
        sha256: {"ab" * 32}
    0:33 note note-bl
        heard: heard-g
        tell: yes
    0:34 todo todo-bm
        for: reader-bn
    0:35 pause pause-bo
    0:36 resume
    0:37 cut 5:00..6:00
    9:00 verdict verdict-bp
        for: good-bq
        against: against-br
        score: score-bs
        whom: reader-bt
    9:01 end abandoned
"""
OTHERWISE = {
    "7 of 10": "7 of 10", "25 GiB": "25 GiB", "/mount-r ext4 19 GiB": "/mount-r ext4 19 GiB", "31 dB": "31 dB",
    "file 3 GiB hibernate": "file of 3 GiB, to hibernate", "item-be 7.4": "item-be 7.4", "from title-a": "from title-a",
    "5:00..6:00": "14:00–15:00", "other": "", "desktop": "desktop", "ab" * 32: "abababab", "partly": "partly", "minor": "minor",
    "thing-e less": "thing-e: less than in", "but but-ct": "but but-ct", "ask-cu": "", "yes": "",
}  # fmt: skip
"""How a value is shown, where it is not shown as it stands."""


def values(log: Log) -> set[str]:
    """All that is said in a log."""
    texts = {text for cue in log.cues for text in (cue.name or "", cue.text, *(value for _, value in cue.fields))}
    return texts - {""}


class Everything(unittest.TestCase):
    log = log_of(LOG)
    whole = run_of(LOG, "a-1")

    def test_the_log_below_has_every_verb_with_all_its_fields(self) -> None:
        found = {word: {key for cue in self.log.cues if cue.verb == word for key, _ in cue.fields} for word in VERBS}
        own = {word: keys - (COMMON.keys() - VERBS[word].fields.keys()) for word, keys in found.items()}
        self.assertEqual(own, {word: set(verb.fields) for word, verb in VERBS.items()})
        self.assertEqual({cue.verb for cue in self.log.cues}, set(VERBS))

    def look(self, text: str) -> None:
        missing = {value for value in values(self.log) if OTHERWISE.get(value, value) not in text}
        self.assertEqual(missing, set())

    def test_in_the_view_of_one_run(self) -> None:
        self.look(show_run(self.whole, Medium(width=240)))

    def test_on_the_page_of_a_comparison(self) -> None:
        sides = (Side("a", (self.whole,)), Side("b", (run_of("0:00 screen title-a\n1:00 end done", "b-1"),)))
        runs = [run for side in sides for run in side.runs]
        lanes = Drawing("runs", lay_lanes(runs), "Timelines")
        page = write_page(comparison_report(Material(compare(sides), (lanes,), runs=tuple(runs))), {}, None, 0)
        body = page.split("<main>")[1].split('<script type="application/json"')[0]
        self.look(html.unescape(re.sub(r"<[^>]*>", "", body)))
