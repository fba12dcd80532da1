"""Breaks the code in small ways, one at a time, and counts how many of these mutants the tests find.

    python -m bench.mutants [ROOM...] [--count N] [--seed N] [--minutes N] [--since COMMIT] [--wanted SHARE]

Rooms are those in which figures are made, unless some are named; of each, so many mutants are drawn by chance. With
``--since`` only lines that have changed are broken. A mutant has to be found by the tests that run its line, as far as
a minute goes. Those that may live stand in mutants.toml, each with its reason; they count as not found all the same.
"""  # fmt: skip

from __future__ import annotations

import argparse
import ast
import os
import random
import re
import shutil
import subprocess
import sys
import tempfile
import time
import tomllib
import unittest
from collections import Counter, defaultdict
from collections.abc import Iterable, Iterator, Mapping, Sequence
from concurrent.futures import ProcessPoolExecutor, as_completed
from multiprocessing import get_context
from pathlib import Path

import msgspec

ROOT = Path(__file__).parent.parent
ROOMS = ("log", "run", "measures", "compare", "ledgers", "judging", "watch/screens")
WANTED = 0.8  # of the mutants of a room that have to be found
_FEW = 20  # mutants of a room below which a share says nothing
_SECONDS = 60.0  # of tests for a mutant
_SLOW = 8.0  # seconds: a test that takes longer is no test of one line
_SOURCE = "src/metrograph"
_OPERATORS = re.compile(
    r"core/(ReplaceBinaryOperator_(Add_Sub|Sub_Add|Mul_Div|Div_Mul|FloorDiv_Mul|Mod_Mul|BitOr_BitAnd|BitAnd_BitOr|Sub_BitOr)"
    r"|ReplaceComparisonOperator_(Eq_NotEq|NotEq_Eq|Lt_LtE|LtE_Lt|Gt_GtE|GtE_Gt|Eq_GtE|Is_IsNot|IsNot_Is)"
    r"|ReplaceUnaryOperator_(USub_UAdd|Delete_Not)|AddNot|ReplaceTrueWithFalse|ReplaceFalseWithTrue|ReplaceAndWithOr"
    r"|ReplaceOrWithAnd|ReplaceBreakWithContinue|ReplaceContinueWithBreak|NumberReplacer|ExceptionReplacer|ZeroIterationForLoop)"
)
"""Mutations that differ: of all that could stand for an operator, the nearest."""


class Mutant(msgspec.Struct, frozen=True):
    """A change of one place. occurrence: which of the places of its operator in the file."""

    file: str
    line: int
    operator: str
    occurrence: int
    code: str


class Verdict(msgspec.Struct, frozen=True):
    """What became of a mutant: killed, survived or, where no test runs its line, unseen."""

    mutant: Mutant
    word: str
    diff: str = ""


class TestMap(msgspec.Struct):
    """Which tests run a line, by file and line, and how many seconds each takes."""

    lines: dict[str, dict[int, list[str]]] = {}
    seconds: dict[str, float] = {}

    def tests_of(self, mutant: Mutant) -> list[str]:
        """The tests that run a line, those of its room first and the quick before the slow, as far as a minute goes."""
        of_file = self.lines.get(mutant.file, {})
        names = set(of_file.get(mutant.line, ())) or {test for tests in of_file.values() for test in tests}
        room = mutant.file.removeprefix(f"{_SOURCE}/").split("/")[0]
        order = sorted(names, key=lambda name: (not name.startswith(f"tests.{room}."), self.seconds.get(name, 9)))
        chosen, total = [], 0.0
        for name in order:
            total += self.seconds.get(name, 9)
            if total > _SECONDS:
                break
            chosen.append(name)
        return chosen


# -- which tests run which lines ---------------------------------------------------------------------------------------


class _Timed(unittest.TestResult):
    """Tells whoever watches lines which test runs, and keeps how long it takes."""

    def __init__(self, watcher: object, seconds: dict[str, float]) -> None:
        super().__init__()
        self.watcher, self.seconds, self.begun = watcher, seconds, 0.0

    def startTest(self, test: unittest.TestCase) -> None:  # noqa: N802 - unittest's name
        super().startTest(test)
        self.watcher.switch_context(test.id())  # type: ignore[attr-defined]
        self.begun = time.perf_counter()

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802 - unittest's name
        self.seconds[test.id()] = time.perf_counter() - self.begun
        super().stopTest(test)


def map_tests(out: Path, part: int, parts: int) -> None:
    """Runs some of the tests, watched line by line, and writes which ran what."""
    import coverage

    watcher = coverage.Coverage(data_file=None, source=[_SOURCE], config_file=False)
    watcher.start()
    seconds: dict[str, float] = {}
    classes = sorted(_classes(unittest.defaultTestLoader.discover("tests", top_level_dir=".")).items())
    for number, (_, tests) in enumerate(classes):
        if number % parts == part:
            unittest.TestSuite(tests).run(_Timed(watcher, seconds))
    watcher.stop()
    data = watcher.get_data()
    quick = {name for name, took in seconds.items() if took < _SLOW}
    lines: dict[str, dict[int, list[str]]] = {}
    for file in data.measured_files():
        found = {line: sorted(quick.intersection(names)) for line, names in data.contexts_by_lineno(file).items()}
        lines[str(Path(file).relative_to(Path.cwd()))] = {line: names for line, names in found.items() if names}
    out.write_bytes(msgspec.json.encode(TestMap(lines, seconds)))


def _classes(suite: Iterable[unittest.TestCase | unittest.TestSuite]) -> dict[str, list[unittest.TestCase]]:
    found: dict[str, list[unittest.TestCase]] = defaultdict(list)
    for each in suite:
        if isinstance(each, unittest.TestSuite):
            for name, tests in _classes(each).items():
                found[name] += tests
        else:
            found[f"{type(each).__module__}.{type(each).__qualname__}"].append(each)
    return found


def mapped(workspace: Path, workers: int) -> TestMap:
    """Which tests of a copy of the project run which of its lines."""
    outs = [workspace / f"map-{part}.json" for part in range(workers)]
    running = [
        subprocess.Popen(
            [sys.executable, "-m", "bench.mutants", "--map", str(out), str(part), str(workers)],
            cwd=workspace, env=_surroundings(workspace), stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )
        for part, out in enumerate(outs)
    ]  # fmt: skip
    if any(process.wait() for process in running):
        raise SystemExit("the tests could not be mapped")
    whole = TestMap()
    for out in outs:
        part = msgspec.json.decode(out.read_bytes(), type=TestMap)
        whole.seconds |= part.seconds
        for file, lines in part.lines.items():
            for line, tests in lines.items():
                whole.lines.setdefault(file, {}).setdefault(line, []).extend(tests)
    return whole


def _surroundings(workspace: Path) -> dict[str, str]:
    return os.environ | {"PYTHONPATH": f"{workspace}/src:{workspace}", "PYTHONDONTWRITEBYTECODE": "1", "CI": "yes"}


# -- mutants -----------------------------------------------------------------------------------------------------------


def mutants_of(files: Sequence[str], changed: Mapping[str, set[int]] | None) -> list[Mutant]:
    """All mutants of some files, below the folder that one stands in. changed: the only lines that are broken."""
    from cosmic_ray.commands.init import init
    from cosmic_ray.work_db import WorkDB, use_db

    with tempfile.TemporaryDirectory() as folder, use_db(f"{folder}/work.sqlite", WorkDB.Mode.create) as work:
        init([Path(file) for file in files], work, {})
        specs = [item.mutations[0] for item in work.work_items]
    sources = {file: Path(file).read_text("utf-8") for file in files}
    promises = {file: tuple(_promises(ast.parse(source))) for file, source in sources.items()}
    found = []
    for spec in specs:
        file, line = str(spec.module_path), spec.start_pos[0]
        if _OPERATORS.fullmatch(spec.operator_name) is None:
            continue
        if any(begin <= spec.start_pos < end for begin, end in promises[file]):
            continue
        if changed is None or line in changed.get(file, ()):
            code = sources[file].splitlines()[line - 1].strip()
            found.append(Mutant(file, line, spec.operator_name.removeprefix("core/"), spec.occurrence, code))
    return found


_PROMISES = {"strict", "frozen", "gc", "array_like"}
"""Arguments that promise something to whoever reads the code, or save room: no result depends on them."""


def _promises(tree: ast.Module) -> Iterator[tuple[tuple[int, int], tuple[int, int]]]:
    """Where what nobody runs begins and ends, by lines and columns: types of arguments and fields, and promises."""
    for node in ast.walk(tree):
        found: list[ast.AST | None] = []
        if isinstance(node, ast.FunctionDef):
            every = [*node.args.args, *node.args.kwonlyargs, *node.args.posonlyargs]
            found = [node.returns, *(each.annotation for each in every)]
        elif isinstance(node, ast.AnnAssign):
            found = [node.annotation]
        elif isinstance(node, ast.keyword) and node.arg in _PROMISES:
            found = [node.value]
        for each in found:
            if isinstance(each, ast.expr):
                yield (each.lineno, each.col_offset), (each.end_lineno or each.lineno, each.end_col_offset or 0)


def changed_since(commit: str) -> dict[str, set[int]]:
    """The lines of each file that are not as they were."""
    told = subprocess.run(
        [shutil.which("git") or "git", "diff", "--unified=0", commit, "--", _SOURCE],
        capture_output=True,
        text=True,
        check=True,
        cwd=ROOT,
    ).stdout
    found: dict[str, set[int]] = defaultdict(set)
    file = ""
    for line in told.splitlines():
        if line.startswith("+++ b/"):
            file = line[6:]
        elif match := re.match(r"@@ -\S+ \+(\d+)(?:,(\d+))? @@", line):
            first, count = int(match[1]), int(match[2] or 1)
            found[file] |= set(range(first, first + count))
    return found


def _tried(workspace: Path, mutant: Mutant, tests: Sequence[str]) -> Verdict:
    """What becomes of a mutant, in a copy of the project that is this process's own."""
    from cosmic_ray.mutating import mutate_and_test
    from cosmic_ray.work_item import MutationSpec, TestOutcome

    if not tests:
        return Verdict(mutant, "unseen")
    os.chdir(workspace)
    os.environ.update(_surroundings(workspace))
    spec = MutationSpec(mutant.file, f"core/{mutant.operator}", mutant.occurrence, (0, 0), (0, 1), {}, None)
    result = mutate_and_test([spec], f"{sys.executable} -m unittest -q -f {' '.join(tests)}", _SECONDS * 2 + 30)
    survived = result.test_outcome is TestOutcome.SURVIVED
    return Verdict(mutant, "survived" if survived else "killed", result.diff or "")


_OWN: list[Path] = []
"""The copy of the project that a process breaks."""


def _take_copy(copies: object) -> None:
    _OWN.append(copies.get())  # type: ignore[attr-defined]


def _try(mutant: Mutant, tests: Sequence[str]) -> Verdict:
    return _tried(_OWN[0], mutant, tests)


def tried(mutants: Sequence[Mutant], tests: TestMap, copies: Sequence[Path], until: float) -> Iterator[Verdict]:
    """What becomes of mutants, in the order in which they are done, as far as the time goes."""
    context = get_context("fork")
    waiting = context.Manager().Queue()
    for copy in copies:
        waiting.put(copy)
    with ProcessPoolExecutor(len(copies), context, _take_copy, (waiting,)) as pool:
        futures = [pool.submit(_try, mutant, tests.tests_of(mutant)) for mutant in mutants]
        for future in as_completed(futures):
            if not future.cancelled():
                yield future.result()
            if time.monotonic() > until:
                pool.shutdown(wait=False, cancel_futures=True)


# -- what it comes to --------------------------------------------------------------------------------------------------


def listed() -> set[tuple[str, str, str]]:
    """The mutants that may live: file, operator, and the line as it stands."""
    table = tomllib.loads((ROOT / "bench/mutants.toml").read_text("utf-8"))
    return {(each["file"], each["operator"], each["code"]) for each in table.get("survives", [])}


def room_of(file: str) -> str:
    """The room of a file."""
    inside = file.removeprefix(f"{_SOURCE}/")
    return next((room for room in ROOMS if inside.startswith(f"{room}/")), inside.partition("/")[0])


def run(rooms: Sequence[str], count: int, seed: int, minutes: float, since: str | None, wanted: float = WANTED) -> bool:
    """Prints a table and all that survived; whether enough were killed in each room."""
    workers = os.cpu_count() or 1
    until = time.monotonic() + 60 * minutes
    with tempfile.TemporaryDirectory() as folder:
        copies = [Path(folder) / str(number) for number in range(workers)]
        for copy in copies:
            for part in ("src", "tests", "bench", "docs"):
                shutil.copytree(ROOT / part, copy / part, ignore=shutil.ignore_patterns("__pycache__", "*.egg-info"))
            for part in ("pyproject.toml", "README.md", "CONTRIBUTING.md", "CHANGELOG.md", "Makefile"):
                shutil.copy(ROOT / part, copy / part)
        os.chdir(copies[0])
        changed = changed_since(since) if since else None
        chosen: list[Mutant] = []
        for room in rooms:
            files = sorted(str(path) for path in Path(_SOURCE, room).rglob("*.py"))
            every = mutants_of([file for file in files if changed is None or file in changed], changed)
            chosen += random.Random(seed).sample(every, min(count, len(every)))
        random.Random(seed).shuffle(chosen)  # so that time runs out for all rooms alike
        verdicts = list(tried(chosen, mapped(copies[0], workers), copies, until)) if chosen else []
        os.chdir(ROOT)
    return told(rooms, verdicts, wanted)


def told(rooms: Sequence[str], verdicts: Sequence[Verdict], wanted: float) -> bool:
    """Prints what became of mutants; whether enough were killed in each room."""
    may_live, shares = listed(), []
    for each in sorted(verdicts, key=lambda each: (each.mutant.file, each.mutant.line)):
        if each.word != "killed":
            mutant = each.mutant
            known = (mutant.file, mutant.operator, mutant.code) in may_live
            print(f"{mutant.file}:{mutant.line} {mutant.operator} {each.word}{', as is listed' if known else ''}")
            print(
                "".join(f"    {line}\n" for line in each.diff.splitlines() if re.match(r"[+-](?![+-])", line)), end=""
            )
    print("| room | mutants | found by tests | listed, with a reason |")
    print("|---|---|---|---|")
    for room in rooms:
        own = [each for each in verdicts if room_of(each.mutant.file) == room]
        words = Counter(each.word for each in own)
        reasons = sum(
            (each.mutant.file, each.mutant.operator, each.mutant.code) in may_live
            for each in own
            if each.word != "killed"
        )
        share = words["killed"] / len(own) if own else 1.0
        print(f"| {room} | {len(own)} | {words['killed']} ({share:.0%}) | {reasons} |")
        shares += [share] if len(own) >= _FEW else []
    return all(share >= wanted for share in shares)


def main() -> None:
    """Reads what is asked for."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("rooms", nargs="*", default=ROOMS)
    parser.add_argument("--count", type=int, default=100)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--minutes", type=float, default=600)
    parser.add_argument("--since")
    parser.add_argument("--wanted", type=float, default=WANTED, help="share of a room's mutants that have to be found")
    parser.add_argument("--map", nargs=3, help=argparse.SUPPRESS)
    asked = parser.parse_args()
    if asked.map:
        map_tests(Path(asked.map[0]), int(asked.map[1]), int(asked.map[2]))
        return
    sys.exit(not run(asked.rooms, asked.count, asked.seed, asked.minutes, asked.since, asked.wanted))


if __name__ == "__main__":
    main()
