"""What a reader's names stand for, and what a release has of each: from runs, worked out by hand."""

import unittest

import msgspec

from metrograph.judging.shortlist_records import TopicKind, TopicValue, Unusable, Wrong
from metrograph.judging.topics import Topic, Topics
from metrograph.judging.worth import Scale, scaled
from metrograph.ledgers.digests.digest import Digest, digest
from metrograph.ledgers.digests.release_groups import group
from metrograph.log.lexicon import Checklist
from metrograph.log.quantities.quantity import Quantity, parse_quantity
from metrograph.log.quantities.ranges import Range
from metrograph.run.cards import Release
from tests.helpers import LEXICON, run_of


def run(name: str, cues: str) -> Digest:
    lines = "\n".join(f"2:{second:02} {cue}" for second, cue in enumerate(cues.strip().split("\n"), 1))
    made = digest(run_of(f"0:00 screen Disk\n{lines}\n3:00 end done\n", name))
    return msgspec.structs.replace(made, release=name.rpartition("-")[0])


RUNS = {
    "moor-1": [
        run("moor-1-1", "carries office: Writewell 4.3\nlacks sound: Hum\ncheck print: pass\ncheck scan: partly\nrate desk = 7 of 10"),
        run("moor-1-2", "carries office: Writewell 4.3\ncheck print: fail\ncheck scan: partly"),
    ],
    "moor-2": [run("moor-2-1", "carries sound: Hum\ncheck print: pass\ncheck scan: fail\nrate desk = 4 of 5")],
}  # fmt: skip
CARDS = {name: Release("Moor", name[-1], released=f"2026-0{name[-1]}-01") for name in RUNS}
EVERY = [each for runs in RUNS.values() for each in runs]
TOPICS = Topics(group(EVERY, CARDS, one_line=True), EVERY, LEXICON, Checklist(checks=("sleep",)))


def of(name: str) -> dict[str, TopicValue]:
    topic = TOPICS.find(name)
    assert isinstance(topic, Topic), topic
    return {release: topic.of(release) for release in RUNS}


class Found(unittest.TestCase):
    def test_trials_are_worth_what_came_of_them(self) -> None:
        self.assertEqual([each.amount for each in of("print").values()], [Range(0, 1), Range(1, 1)])
        self.assertEqual([each.amount for each in of("scan").values()], [Range(0.5, 0.5), Range(0, 0)])
        self.assertEqual([each.amount for each in of("sleep").values()], [None, None])

    def test_what_came_out_under_another_condition_is_said_and_answers_nothing(self) -> None:
        runs = [run("fen-1-1", "check sound: pass | with a phone\nreading memory = 1 GiB | load busy\ncheck net: pass")]
        topics = Topics(group(runs, {}, one_line=True), runs, LEXICON, Checklist(checks=("sound",)))
        for name, said in {
            "sound": "pass with a phone", "sound with a phone": "pass", "net with a cable": None,
            "memory (installed)": "read live, busy only",
        }.items():  # fmt: skip
            topic = topics.find(name)
            if said is None:
                self.assertIsInstance(topic, Unusable)
                continue
            assert isinstance(topic, Topic), topic
            value = topic.of("fen-1")
            self.assertEqual((value.said, value.amount is None), (said, name != "sound with a phone"), name)

    def test_software_is_on_board_or_not_and_of_what_nobody_noted_nothing_is_known(self) -> None:
        self.assertEqual([each.said for each in of("carries writewell").values()], ["Writewell", ""])
        self.assertEqual([each.amount for each in of("carries hum").values()], [Range(0, 0), Range(1, 1)])
        self.assertEqual([each.amount for each in of("carries office").values()], [Range(1, 1), None])

    def test_ratings_are_parts_of_their_whole(self) -> None:
        self.assertEqual([each.amount for each in of("desk").values()], [Range(0.7, 0.7), Range(0.8, 0.8)])
        self.assertEqual(of("desk")["moor-1"].said, "7 of 10")

    def test_figures_repeat_where_one_rig_had_more_runs_of_a_release(self) -> None:
        topic = TOPICS.find("hands-on")
        assert isinstance(topic, Topic)
        self.assertEqual(
            (topic.kind, topic.better, topic.repeats), (TopicKind.FIGURE, "less", ((Range(180, 180),) * 2,))
        )

    def test_a_name_that_stands_for_nothing_is_answered_with_those_that_do(self) -> None:
        found = TOPICS.find("prnt")
        assert isinstance(found, Unusable)
        self.assertEqual(found.wrong, Wrong.UNKNOWN)
        self.assertLessEqual({"print", "scan", "sleep", "desk", "hands-on"}, set(found.known))


class Worth(unittest.TestCase):
    def test_limits_are_taken_in_the_unit_of_the_topic_only(self) -> None:
        figure, rating = Topic("x", TopicKind.FIGURE, "s"), Topic("x", TopicKind.RATING)
        for topic, text, expected in (
            (figure, "10:00", 600.0), (figure, "5 GiB", None), (figure, "5", None), (rating, "7 of 10", 0.7),
            (rating, "7", None), (Topic("x", TopicKind.NOTHING), "5 GiB", float(5 << 30)),
            (Topic("x", TopicKind.READING, "aa"), "7 zz", None),
        ):  # fmt: skip
            quantity = parse_quantity(text)
            assert isinstance(quantity, Quantity), text
            found = scaled(quantity, topic)
            self.assertEqual(None if found is None else round(found, 9), expected, text)

    def test_a_scale_goes_either_way_and_ends_at_its_ends(self) -> None:
        less = Scale(1200, 300)
        self.assertEqual([less.worth(value) for value in (1300, 1200, 750, 300, 200)], [0, 0, 0.5, 1, 1])
        self.assertEqual((less.value(0.5), less.span(750, None), Scale(5, 5).worth(9)), (750, (0, 0.5), 1))
        self.assertEqual(Scale(300, 1200).span(750, None), (0.5, 1))
