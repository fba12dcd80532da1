"""The shortlist: how long it takes, and whether it is as sure as it says, by simulation where the truth is known."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from bench.measure import BIN, in_turn, process
from metrograph.judging.sampling import Numbers
from metrograph.judging.shortlist import shortlist
from metrograph.judging.shortlist_records import TopicKind, TopicValue, Unusable, Wrong
from metrograph.judging.topics import Topic, Topics
from metrograph.ledgers.digests.release_groups import ReleaseGroup
from metrograph.log.quantities.ranges import Range, median
from metrograph.run.readers import Reader
from metrograph.store.local.reader_settings import parse_wish

_REPETITIONS, _SAMPLES = 3000, 1000
_NOISE = 0.1  # how far the logarithms of repeats spread
_UNKNOWN = 0.1  # share of figures that nobody noted
_WORST, _BEST = 600.0, 150.0  # seconds between which a wish is worth nothing and everything
_BANDS = 10
_UNLIKE = (1.0, 2.0, 4.0)
"""How far the logarithms of releases spread, in spreads of repeats."""

CALIBRATION = ["stated", "truly best, all together", *(f"releases unlike by {unlike:g} spreads" for unlike in _UNLIKE)]


class Given(Topics):
    """Topics that are given."""

    def __init__(self, releases: list[str], topics: list[Topic]) -> None:
        self.group = ReleaseGroup.of({name: [] for name in releases}, ("",) * len(releases))
        self.topics = {topic.name: topic for topic in topics}

    def find(self, name: str, fact: bool = False) -> Topic | Unusable:  # noqa: ARG002
        """The topic of this name."""
        return self.topics.get(name, Unusable(name, Wrong.UNKNOWN))


def speed() -> list[str]:
    """200 releases, 12 wishes and 10,000 samples, beside drawing as many normal numbers and no more."""
    chance = np.random.default_rng(7)
    names, wishes = [f"r{number}" for number in range(200)], [f"w{number}" for number in range(12)]
    topics = [_topic(chance, name, {each: [float(chance.uniform(150, 600))] for each in names}) for name in wishes]
    reader = _reader(wishes)
    took, beside, ratio = in_turn(
        lambda: shortlist(reader, Given(names, topics)), lambda: chance.standard_normal((12, 200, 10_000)), 5
    )
    return [
        "shortlist of 200 releases, 12 wishes, 10,000 samples", f"{took:.2f} s",
        "drawing as many normal numbers", f"{beside:.2f} s", f"{ratio:.1f}", "2 s",
    ]  # fmt: skip


def software() -> list[str]:
    """The ledger of software of 60 releases with 400 items each, whole process, when its digests are kept."""
    with TemporaryDirectory() as name:
        folder = Path(name)
        (folder / "metrograph.toml").write_text("")
        (folder / "runs").mkdir()
        for release in range(60):
            cues = [
                f"{group + 1}:00 carries group {group}: "
                + ", ".join(
                    f"Item {group}-{item} {release // 3}.{item}" for item in range(20) if (group * item + release) % 37
                )
                for group in range(21)
            ]
            head = f"metrograph 1\nrelease: moor-{release}.0\nrig: bench-vm\nbegun: 2026-01-01T10:00:00+00:00\n\n0:00 screen Disk\n"
            (folder / f"runs/moor-{release}.0-1.metro").write_text(head + "\n".join(cues) + "\n40:00 end done\n")
        command, version = (
            process([BIN / "metrograph", *words], folder) for words in (["software", "--json"], ["--version"])
        )
        command()
        took, beside, ratio = in_turn(command, version, 5)
    return [
        "software of 60 releases with 400 items each, second call", f"{took:.2f} s", "metrograph --version",
        f"{beside:.2f} s", f"{ratio:.1f}", "a second",
    ]  # fmt: skip


def calibration() -> list[list[str]]:
    """For each tenth of what is stated: how often a release of which that is stated is truly the best."""
    found = [_stated(unlike) for unlike in _UNLIKE]
    columns = [list(_bands(pairs)) for pairs in (np.concatenate(found), *found)]
    return [[f"{10 * band}-{10 * band + 10} of 100", *(column[band] for column in columns)] for band in range(_BANDS)]


def _stated(unlike: float) -> Numbers:
    """Pairs of the share that is stated of a release, and whether it is truly the best."""
    chance = np.random.default_rng(16)
    return np.array([pair for _ in range(_REPETITIONS) for pair in _simulated(chance, unlike * _NOISE)])


def _bands(pairs: Numbers) -> Iterator[str]:
    """What is true in each band, what is stated on the average, and of how many."""
    places = np.minimum((pairs[:, 0] * _BANDS).astype(int), _BANDS - 1)
    for band in range(_BANDS):
        within = pairs[places == band]
        stated, true = within.mean(axis=0) if len(within) else (0.0, 0.0)
        yield f"{true:.1%}, stated {stated:.1%} ({len(within)})"


def _simulated(chance: np.random.Generator, spread: float) -> Iterator[tuple[float, bool]]:
    """The share that is stated of each of some releases, and whether it is truly the best."""
    names = [f"r{number}" for number in range(int(chance.integers(2, 7)))]
    wishes = [f"w{number}" for number in range(int(chance.integers(2, 5)))]
    weights = chance.integers(1, 4, len(wishes))
    truth = np.exp(chance.normal(np.log(300), spread, (len(wishes), len(names))))
    worths = np.clip((truth - _WORST) / (_BEST - _WORST), 0, 1)
    topics = []
    for row, wish in enumerate(wishes):
        values = {}
        for place, name in enumerate(names):
            if chance.random() < _UNKNOWN:
                worths[row, place] = chance.random()  # what nobody noted may be anything
                continue
            runs = int(chance.integers(1, 5))
            values[name] = list(map(float, truth[row, place] * np.exp(chance.normal(0, _NOISE, runs))))
        topics.append(_topic(chance, wish, values))
    true_weights = weights * 1.5 ** chance.uniform(-1, 1, len(wishes))
    best = names[int(np.argmax(true_weights @ worths))]
    made = shortlist(_reader(wishes, weights), Given(names, topics), int(chance.integers(1 << 30)), _SAMPLES)
    return ((each.first or 0.0, each.release == best) for each in made.order)


def _topic(chance: np.random.Generator, name: str, values: dict[str, list[float]]) -> Topic:
    """A figure with its runs, and the repeats of three other releases."""
    others = [list(map(float, 300 * np.exp(chance.normal(0, _NOISE, 3)))) for _ in range(3)]
    repeats = [[Range(value, value) for value in group] for group in (*others, *values.values()) if len(group) > 1]
    held = {
        release: TopicValue(median([Range(value, value) for value in runs]), min(runs), max(runs), len(runs))
        for release, runs in values.items()
    }
    return Topic(name, TopicKind.FIGURE, "s", "less", held, tuple(map(tuple, repeats)))


def _reader(wishes: list[str], weights: object = None) -> Reader:
    given = [1] * len(wishes) if weights is None else list(map(int, weights))  # type: ignore[call-overload]
    ends = {"from": f"{_WORST:g} s", "to": f"{_BEST:g} s"}
    return Reader(
        "bench", wishes=tuple(parse_wish(w, {"weight": n} | ends) for w, n in zip(wishes, given, strict=True))
    )


if __name__ == "__main__":
    print(speed())
    print(software())
    for row in calibration():
        print(row)
