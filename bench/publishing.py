"""How long a page of twenty releases with three runs each takes to make and to open, and what it weighs; and figures."""

from __future__ import annotations

import shutil
import statistics
import tempfile
import time
from pathlib import Path

from bench.flows import Maker, Rates, TrueScreen
from bench.measure import BIN, in_turn, process
from metrograph.store.local.logbook import Logbook, make_logbook

RELEASES, RUNS, SCREENS = 20, 3, 40
_IMPORTS = "import metrograph.faces.cli.main, metrograph.faces.cli.reviewing.report, metrograph.compare.contrasts, jinja2, matplotlib.figure, matplotlib.backends.backend_agg"


def rows() -> list[list[str]]:
    """The page made, its weight, the page opened, and a figure."""
    with tempfile.TemporaryDirectory() as name:
        book = Logbook(Path(name))
        make_logbook(book.path)
        names = _generate(book)
        page: list[str | Path] = [BIN / "metrograph", "report", *names, "-o", "page.html"]
        imports = process([BIN / "python", "-c", _IMPORTS], book.path)
        made, bare, ratio = in_turn(process(page, book.path), imports, 3)
        size = (book.path / "page.html").stat().st_size / 2**20
        figure: list[str | Path] = [BIN / "metrograph", "draw", "strip", *names[-3:], "-o", "strip.svg"]
        drawn, again, drawing = in_turn(process(figure, book.path), imports, 3)
        what = f"page of {RELEASES} releases x {RUNS} runs x {SCREENS} screens"
        return [
            [what, f"{made:.1f} s, {size:.1f} MiB", "a process that imports the same and ends", f"{bare:.1f} s", f"{ratio:.1f}", "4 s"],
            _opened(book.path / "page.html"),
            ["strip of three releases, whole process", f"{drawn:.2f} s", "a process that imports the same and ends", f"{again:.2f} s", f"{drawing:.2f}", "1.5 s"],
        ]  # fmt: skip


def _opened(page: Path) -> list[str]:
    """From the address to a page that answers, in Chromium; beside it an empty page."""
    if not (shutil.which("chromium") and shutil.which("chromedriver")):
        return ["the page opened in Chromium", "not measured: it is not installed", "", "", "", "1 s"]
    from selenium import webdriver

    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or ""
    for word in ("--headless=new", "--no-sandbox", "--disable-dev-shm-usage"):
        options.add_argument(word)
    empty = page.with_name("empty.html")
    empty.write_text("<!DOCTYPE html><title>empty</title>")
    driver = webdriver.Chrome(options=options, service=webdriver.ChromeService(shutil.which("chromedriver")))
    try:
        times = [[_open(driver, each) for each in (page, empty)] for _ in range(6)][1:]
    finally:
        driver.quit()
    ours, bare = (statistics.median(column) for column in zip(*times, strict=True))
    return [
        "the same opened in Chromium, usable",
        f"{ours * 1000:.0f} ms",
        "an empty page",
        f"{bare * 1000:.0f} ms",
        f"{ours / bare:.1f}",
        "1 s",
    ]


def _open(driver: object, page: Path) -> float:
    started = time.perf_counter()
    driver.get(page.as_uri())  # type: ignore[attr-defined]
    driver.execute_script("return document.querySelectorAll('tr').length")  # type: ignore[attr-defined]
    return time.perf_counter() - started


def _generate(book: Logbook) -> list[str]:
    """Releases that follow each other, each installed three times; returns their names."""
    maker = Maker(11)
    flow = maker.flow(SCREENS)
    names = []
    for number in range(RELEASES):
        name = f"moor-{number + 1}.0-heron"
        names.append(name)
        for run in range(RUNS):
            book.log(f"{name}-{run + 1}").write_text(_log(name, number, flow, maker))
        flow = maker.later(flow, Rates(0.03, 0.03, 0.03, 0.03))
    return names


def _log(release: str, number: int, flow: list[TrueScreen], maker: Maker) -> str:
    text = f"metrograph 1\nrelease: {release}\nrig: bench-vm\nbegun: 2026-{number % 12 + 1:02}-01T10:00:00Z\n\n"
    at = 0
    for screen in flow:
        at += maker.chance.randrange(5, 60)
        text += f"{at // 60}:{at % 60:02} screen {screen.key.title}\n    kind: {screen.key.kind}\n"
        for key in screen.key.keys:
            text += f"{at // 60}:{at % 60:02} keep {key} = {screen.truth % 7}\n    offered: one, two, three\n"
    return (
        text
        + f"{at // 60 + 1}:00 phase desktop\n{at // 60 + 2}:00 reading memory = {900 + 5 * number} MiB\n{at // 60 + 3}:00 end done\n"
    )
