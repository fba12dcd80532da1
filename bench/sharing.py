"""Shared archives: how fast they are built, and what a question costs at ten thousand, a hundred thousand, a million runs.

`python -m bench.sharing [RUNS...]` makes archives whose rows come from a generator, of as many runs as are named.
"""

from __future__ import annotations

import hashlib
import json
import random
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import numpy as np
import pyarrow as pa

from bench.flows import Maker, Rates
from metrograph.archive.building import LARGEST, Workers, build
from metrograph.archive.deriving import name_of
from metrograph.archive.nearest import KnownFlows
from metrograph.archive.parts import TableFile, made_part, put_part
from metrograph.archive.place import ArchivePlace
from metrograph.archive.shared_logs import put, shared_text
from metrograph.archive.tables import TABLES, schema_of, to_parquet
from metrograph.compare.kinship import kin_to
from metrograph.log.reader import read_log
from metrograph.run.cards import Release, Rig
from metrograph.run.route import Route

_RELEASES, _REVIEWERS = 1900, 500
_ROUNDS = 5
_BESIDE = "a bare DuckDB query for how a figure stands"
_SMALL = 500  # runs of a part where each night has one
_FIGURES = ("installed", "desktop", "updated", "hands-on", "waiting", "screens", "decisions", "calls")
_SCREENS = 20
_LOGS, _MANY_LOGS = 2000, 100_000  # that are built
_DEMO = Path(__file__).parent.parent / "src/metrograph/demo/logbook/runs"
_STANDING = """
SELECT count(*) FILTER (f.high < 900), count(*) FROM {figures} f JOIN {runs} r USING (log)
WHERE f.name = 'installed' AND ended AND rig_kind = 'virtual' AND memory BETWEEN 3865470566 AND 4724464026
"""
_QUESTIONS = {
    "how a figure stands": (
        "from metrograph.archive.answers import Like, others\nfrom metrograph.log.quantities.ranges import Range\n"
        "print(others(place, 'x', {'installed': Range(900, 900)}, {}, Like('virtual', 4 << 30), 'me').standings)"
    ),
    "who met an issue": ("from metrograph.archive.answers import met_in\nprint(met_in(place, {'issue-3': 'x'}, 'me'))"),
    "a figure along ten releases": (
        "from metrograph.archive.answers import followed_in\n"
        "print(len(followed_in(place, 'installed', [f'moor-{n}.0' for n in range(10)], 'me')))"
    ),
    "what others take on each screen": (
        "from metrograph.archive.answers import Like\nfrom metrograph.archive.answers import usual_in\n"
        "print(len(usual_in(place, 'Moor 7', Like('virtual', 4 << 30), 'me')))"
    ),
    "the list of releases": (
        "from metrograph.services.outward.sharing_out import _RELEASES\nfrom metrograph.archive.querying import query\n"
        "print(len(query(place, _RELEASES, 100000).rows))"
    ),
}
_SETUP = "import sys\nfrom metrograph.archive.place import ArchivePlace\nplace = ArchivePlace(sys.argv[1])\n"
_BARE = (
    "import sys, duckdb\nroot = sys.argv[1]\nprint(duckdb.sql("
    + repr(_STANDING.format(figures="read_parquet('ROOT/tables/figures/*')", runs="read_parquet('ROOT/tables/runs/*')"))
    + ".replace('ROOT', root)).fetchall())"
)
_PANDAS = (
    "import sys, pandas as pd\nroot = sys.argv[1] + '/tables/'\n"
    "r = pd.read_parquet(root + 'runs', columns=['log', 'ended', 'rig_kind', 'memory'])\n"
    "f = pd.read_parquet(root + 'figures', columns=['log', 'name', 'high'], filters=[('name', '=', 'installed')])\n"
    "r = r[r.ended & (r.rig_kind == 'virtual') & r.memory.between(3865470566, 4724464026)]\n"
    "print((f.merge(r, on='log').high < 900).sum())"
)  # fmt: skip


def generated(place: ArchivePlace, runs: int, at_once: bool = True) -> None:
    """An archive of so many runs, whose rows nobody has folded: figures spread by release and by run, rigs and issues differ.

    at_once: whether it is as one build makes it, whose parts have no names in common; otherwise as many builds do.
    """
    logs = [hashlib.sha256(str(number).encode()).hexdigest() for number in range(runs)]
    logs, size = (sorted(logs), LARGEST) if at_once else (logs, _SMALL)
    for start in range(0, runs, size):
        _put_chunk(place, start, np.array(sorted(logs[start : start + size])))


def _put_chunk(place: ArchivePlace, start: int, logs: np.ndarray) -> None:
    chance, count = np.random.default_rng(start), len(logs)
    release = chance.integers(0, _RELEASES, count)
    rows: dict[str, dict[str, Any]] = {
        "runs": {
            "log": logs, "run": [f"moor-{r}.0-{n}" for n, r in enumerate(release)],
            "release": [f"moor-{r}.0" for r in release], "distribution": [f"Moor {r % 90}" for r in release],
            "reviewer": [f"Reviewer {n}" for n in chance.zipf(1.4, count) % _REVIEWERS],
            "begun": np.datetime64("2026-01-01", "ms") + chance.integers(0, 10**10, count),
            "ended": np.ones(count, bool), "told": np.ones(count, bool),
            "rig_kind": np.where(chance.random(count) < 0.7, "virtual", "physical"),
            "memory": (1 << 30) * chance.choice([2, 4, 8, 16], count), "screens": np.full(count, _SCREENS),
        },
    }  # fmt: skip
    base = 400 + 10 * (release % 80)
    values = np.concatenate(
        [base * (place_ + 1) / 4 * np.exp(chance.normal(0, 0.15, count)) for place_ in range(len(_FIGURES))]
    )
    values = np.round(values, 3)
    rows["figures"] = {
        "log": np.tile(logs, len(_FIGURES)), "name": np.repeat(_FIGURES, count), "low": values, "high": values,
    }  # fmt: skip
    took = np.round(np.exp(chance.normal(3, 0.8, count * _SCREENS)), 3)
    rows["screens"] = {
        "log": np.repeat(logs, _SCREENS), "place": np.tile(np.arange(_SCREENS), count),
        "title": [f"Screen {n}" for n in (np.repeat(release, _SCREENS) * 3 + np.tile(np.arange(_SCREENS), count)) % 4000],
        "kind": [f"kind-{n % 30}" for n in np.tile(np.arange(_SCREENS), count)],
        "late": np.tile(np.arange(_SCREENS) > 12, count),
        "on_clock_low": took, "on_clock_high": took,
    }  # fmt: skip
    met = chance.random(count) < 0.3
    rows["issues"] = {"log": logs[met], "name": [f"issue-{n}" for n in chance.integers(0, 40, int(met.sum()))]}
    made = {table: _table(table, rows.get(table, {"log": []})) for table in TABLES}
    data = {table: to_parquet(each) for table, each in made.items()}
    files = {table: TableFile(name_of(data[table]), each.num_rows) for table, each in made.items()}
    put_part(place, made_part(map(str, logs), files), data)


def _table(table: str, columns: dict[str, Any]) -> Any:
    size = len(columns["log"])
    return pa.table(
        [
            pa.array(columns[field.name], field.type) if field.name in columns else pa.nulls(size, field.type)
            for field in schema_of(table)
        ],
        schema_of(table),
    )


_WAYS: dict[str, dict[str, int]] = {
    "one core": {"cores": 1},
    "two cores": {"cores": 2},
    "Dask, one worker": {"workers": 1},
    "Dask, two workers": {"workers": 2},
}


def building(rounds: int = 5) -> Iterator[list[str]]:
    """How many logs are folded in a second, here and on a cluster: in turn, and each against one core of its round."""
    done = [{words: _rate(_LOGS, size=100, **how) for words, how in _WAYS.items()} for _ in range(rounds)]
    for words in _WAYS:
        rate = statistics.median(each[words] for each in done)
        ratio = statistics.median(each[words] / each["one core"] for each in done)
        yield [f"building {_LOGS:,} logs, {words}", f"{rate:.0f} logs/s", f"{ratio:.2f}"]
    yield [f"building {_MANY_LOGS:,} logs, two cores", f"{_rate(_MANY_LOGS, cores=2):.0f} logs/s", ""]


def _rate(count: int, **how: int) -> float:
    """Logs a second. how: see ``_built``."""
    demo = [(path.stem, read_log(path.read_text())[0]) for path in sorted(_DEMO.glob("*.metro"))]
    with tempfile.TemporaryDirectory() as folder:
        place = ArchivePlace(folder)
        for number in range(count):
            run, log = demo[number % len(demo)]
            put(place, shared_text(log, run, f"Reviewer {number}", Rig(memory=4 << 30), Release("Moor")))
        return count / _built(place, **how)


def _built(place: ArchivePlace, cores: int = 1, workers: int = 0, size: int | None = None) -> float:
    start = time.perf_counter()
    if not workers:
        build(place, Workers(cores=cores), size=size)
        return time.perf_counter() - start
    from distributed import LocalCluster

    with LocalCluster(n_workers=workers, threads_per_worker=1, dashboard_address=None) as cluster:  # type: ignore[no-untyped-call]
        start = time.perf_counter()
        build(place, Workers(cluster.scheduler_address), size=size)
        return time.perf_counter() - start


def questions(runs: int, at_once: bool = True) -> Iterator[list[str]]:
    """What each question takes in a process of its own, beside a bare query of the same round, and its memory."""
    with tempfile.TemporaryDirectory() as folder:
        start = time.perf_counter()
        generated(ArchivePlace(folder), runs, at_once)
        size = sum(path.stat().st_size for path in Path(folder).rglob("*") if path.is_file())
        print(f"{runs:,} runs made in {time.perf_counter() - start:.0f} s, {size >> 20} MiB", file=sys.stderr)
        asked = {words: _SETUP + script for words, script in _QUESTIONS.items()}
        asked |= {_BESIDE: _BARE, "pandas for the same": _PANDAS}
        rounds = [{words: _asked(script, folder) for words, script in asked.items()} for _ in range(_ROUNDS)]
        for words in asked:
            seconds = statistics.median(each[words][0] for each in rounds)
            ratio = statistics.median(each[words][0] / each[_BESIDE][0] for each in rounds)
            memory = max(each[words][1] for each in rounds)
            yield [f"{runs:,} runs: {words}", f"{seconds:.2f} s", f"{ratio:.2f}", f"{memory >> 10} MiB"]


def _asked(script: str, folder: str) -> tuple[float, int]:
    """Seconds, and the most memory in KiB, of a process."""
    watcher = (
        "import resource, subprocess, sys, time, json\nstart = time.perf_counter()\n"
        "subprocess.run([sys.executable, '-c', sys.argv[1], sys.argv[2]], check=True, stdout=subprocess.DEVNULL)\n"
        "print(json.dumps([time.perf_counter() - start, resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss]))"
    )
    told = subprocess.run(
        [sys.executable, "-c", watcher, script, folder], check=True, capture_output=True, text=True
    ).stdout
    seconds, memory = json.loads(told)
    return seconds, memory


def nearest(count: int = 10_000, asked: int = 10) -> Iterator[list[str]]:
    """Of the five nearest installers by kinship, how many are found among the candidates; in families of twenty."""
    maker, chance = Maker(5), random.Random(5)
    flows: dict[str, Route] = {}
    for family in range(count // 20):
        flow = maker.flow(chance.randrange(12, 40))
        for number in range(20):
            flows[f"f{family}-{number}"] = Route(tuple(screen.key for screen in flow))
            flow = maker.later(flow, Rates(0.05, 0.05, 0.05, 0.05))
    start = time.perf_counter()
    known = KnownFlows(flows)
    indexed = time.perf_counter() - start
    names = chance.sample(list(flows), asked)
    start = time.perf_counter()
    found = {name: known.nearest(name, flows[name]) for name in names}
    took = (time.perf_counter() - start) / asked
    start = time.perf_counter()
    exact = {name: _exact(name, flows) for name in names}
    beside = (time.perf_counter() - start) / asked
    hit = sum(len({each.release for each in found[name].near} & set(exact[name])) for name in names)
    candidates = sum(len(known.candidates(flows[name])) for name in names) / asked
    yield [f"the five nearest of {count:,} flows", f"{took:.2f} s, {candidates:.0f} candidates", f"exact: {beside:.1f} s",
           f"found {hit} of {5 * asked}", f"signatures of all: {indexed:.0f} s"]  # fmt: skip


def _exact(name: str, flows: dict[str, Route]) -> list[str]:
    """The five nearest, each held against in turn."""
    others = [other for other in flows if other != name]
    kin: list[tuple[float, str]] = []
    for start in range(0, len(others), 250):
        part = others[start : start + 250]
        kin += [
            (-float(value), other)
            for value, other in zip(kin_to(flows[name], [flows[o] for o in part]), part, strict=True)
        ]
    return [other for _, other in sorted(kin)[:5]]


def main(sizes: Sequence[int]) -> None:
    """Prints the tables."""
    for row in building():
        print("| " + " | ".join(row) + " |", flush=True)
    for row in nearest():
        print("| " + " | ".join(row) + " |", flush=True)
    for size in sizes:
        for row in questions(size):
            print("| " + " | ".join(row) + " |", flush=True)


if __name__ == "__main__":
    main([int(size) for size in sys.argv[1:]] or [10_000, 100_000, 1_000_000])
