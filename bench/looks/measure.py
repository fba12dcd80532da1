"""How well screens of real toolkits are read: by toolkit, language, scale, and what is wrong by cause.

    python -m bench.looks.measure film FOLDER FIRST LAST   draws and films looks, each with a second installation beside it
    python -m bench.looks.measure ways FOLDER FIRST LAST   the same for whole ways, where a look has a desktop
    python -m bench.looks.measure read FOLDER              goes through the films and keeps the pages
    python -m bench.looks.measure table FOLDER             the tables, over films that were read
    python -m bench.looks.measure known FOLDER             the second installations, read with the looks of the first ones
    python -m bench.looks.measure guard                    whether one look of each toolkit that is here is still read well
    python -m bench.looks.measure wrong FOLDER [NAME]      every screen that is not as it should be, of one film or of all
"""  # fmt: skip

from __future__ import annotations

import subprocess
import sys
import tempfile
from collections import Counter, defaultdict
from collections.abc import Callable, Iterable, Iterator, Sequence
from concurrent.futures import ProcessPoolExecutor
from itertools import count
from pathlib import Path

import msgspec

from bench.looks.film import Filmed, write_film
from bench.looks.flow import Meant
from bench.looks.look import STYLES, TEXT, look_of
from bench.looks.whole_way import write_whole_way
from bench.watching import LEXICON, WORDS, matched
from metrograph.log.escapes import join_list
from metrograph.log.lexicon import OTHER
from metrograph.watch.drafts.looks import Looks, recognised
from metrograph.watch.drafts.looks import look_of as look_of_page
from metrograph.watch.drafts.proposals import sure_of
from metrograph.watch.drafts.scanning import Scan
from metrograph.watch.inputs.video import Film
from metrograph.watch.pages.page import Page
from metrograph.watch.pages.watching import FoundPage, found_in_frames
from metrograph.watch.reading.text_reader import LineReader, Tesseract
from metrograph.watch.reading.words import plain
from metrograph.watch.screens.spans import Span, find_spans

SURE = 0.9
_GUARDED = 700  # the first look that the guard may draw: no rule is set on these
_BOUNDS = {
    "found": (0.88, 1.0),
    "false": (0.0, 0.12),
    "titles": (0.75, 1.0),
    "questions": (0.65, 1.0),
    "kinds": (0.65, 1.0),
}
"""Between what the guard's figures have to lie; chance alone moves a hundred screens by five points."""


class Outcome(msgspec.Struct, frozen=True):
    """What became of one screen, or of one claim. meant: None where a claim is false; span: None where it was not found."""

    film: str
    meant: Meant | None
    span: Span | None

    @property
    def titled(self) -> bool:
        """Whether the title is right."""
        return self.meant is not None and self.span is not None and same_words(self.meant.title, self.span.title)

    @property
    def asked(self) -> bool:
        """Whether the question is right, or there is none."""
        if self.meant is None or self.span is None:
            return False
        return not self.meant.question or same_words(self.meant.question, self.span.question)


def same_words(truth: str, said: str) -> bool:
    """Whether three in four words of a text were read; in scripts without blanks, as many signs."""
    words = _words(truth)
    read = Counter(_words(said))
    return sum(min(count, read[word]) for word, count in Counter(words).items()) >= WORDS * len(words)


def _words(text: str) -> list[str]:
    said = plain(text)
    return said.split() if not any(sign > "\u2e80" for sign in said) else [sign for sign in said if sign.strip()]


def outcomes(film: Path, known: Looks | None = None) -> list[Outcome]:
    """What became of every screen of a film, and all that is false. known: looks that were confirmed before."""
    truth = msgspec.json.decode(film.with_suffix(".json").read_bytes(), type=Filmed)
    screens = [meant for meant in truth.meant if not meant.error and (meant.title or not meant.waiting)]
    pages = passed(film)
    spans = find_spans(pages, LEXICON, round(truth.seconds * 1000))
    spans = spans if known is None else recognised(spans, pages, known)
    claims = [span for span in spans if span.title or not span.waiting]
    pairs = matched(screens, [claim.start / 1000 for claim in claims])
    found = [Outcome(film.stem, meant, claims[pairs[n]] if n in pairs else None) for n, meant in enumerate(screens)]
    return found + [Outcome(film.stem, None, claim) for n, claim in enumerate(claims) if n not in pairs.values()]


def passed(film: Path) -> list[Page]:
    """The pages of a film that was read, as they pass the gate."""
    scan = Scan(LEXICON)
    raw = film.with_suffix(".pages").read_bytes().splitlines()
    for _ in scan.take(FoundPage(msgspec.json.decode(line, type=Page)) for line in raw):
        pass
    return scan.pages


def confirmed(film: Path) -> Looks:
    """The looks of a film after a person who knows all of it has confirmed every screen."""
    pages, looks = passed(film), []
    for each in outcomes(film):
        if each.span is not None and not each.span.dialog:
            meant = each.meant
            name = "" if meant is None else f"{meant.title}: {meant.question}" if each.span.shared else meant.title
            looks.append(look_of_page(pages[each.span.page], name, meant.kind if meant else OTHER))
    return Looks(looks)


def second(film: Path) -> list[Outcome]:
    """What became of the screens of a second installation, with the looks of the first."""
    return outcomes(film, confirmed(film.with_stem(film.stem.removesuffix("-again"))))


class Shares(msgspec.Struct):
    """What is right of some outcomes, each as right and of how many."""

    found: list[int] = msgspec.field(default_factory=lambda: [0, 0])
    false: list[int] = msgspec.field(default_factory=lambda: [0, 0])
    titles: list[int] = msgspec.field(default_factory=lambda: [0, 0])
    questions: list[int] = msgspec.field(default_factory=lambda: [0, 0])
    kinds: list[int] = msgspec.field(default_factory=lambda: [0, 0])
    sure: list[int] = msgspec.field(default_factory=lambda: [0, 0])
    answers: list[int] = msgspec.field(default_factory=lambda: [0, 0])

    def add(self, outcome: Outcome) -> None:
        """Counts one outcome."""
        meant, span = outcome.meant, outcome.span
        if meant is not None:
            _count(self.found, span is not None)
        if span is None:
            return
        _count(self.false, meant is None)
        if span.title and sure_of(span) >= SURE:
            _count(self.sure, outcome.titled)
        if meant is None:
            return
        if meant.title:
            _count(self.titles, outcome.titled)
        if meant.question:
            _count(self.questions, outcome.asked)
        if not meant.dialog:
            _count(self.kinds, same_kind(meant, span))
        if meant.answer or span.choices:
            answered(self.answers, meant, span)


def answered(counts: list[int], meant: Meant, span: Span) -> None:
    """Counts what is said to be picked, against what was."""
    if len(span.choices) == 1:
        choice = span.choices[0]
        said = choice.value
        if said.startswith(("+", "-")) and choice.was is not None:
            kept = [item for item in choice.was.split(", ") if item != "none" and f"-{item}" not in said.split(", ")]
            said = join_list((*kept, *(item[1:] for item in said.split(", ") if item.startswith("+"))))
        _count(counts, sorted(_words(said)) == sorted(_words(meant.answer)) or (said == "none" and not meant.answer))


def same_kind(meant: Meant, span: Span) -> bool:
    """Whether the kind is right: a first page that only asks for a language is either."""
    return span.kind == meant.kind or (meant.kind == "welcome" and span.kind == "language")


def _count(counts: list[int], right: bool) -> None:
    counts[0] += right
    counts[1] += 1


def table(films: Sequence[Path], of_each: Callable[[Path], list[Outcome]] = outcomes) -> None:
    """Prints the tables."""
    with ProcessPoolExecutor(2) as pool:
        told = list(pool.map(of_each, films))
    looks = [msgspec.json.decode(film.with_suffix(".json").read_bytes(), type=Filmed).look for film in films]
    every = list(zip(looks, told, strict=True))
    ways: dict[str, Callable[[object], str]] = {
        "all": lambda _: "all",
        "toolkit": lambda look: look.family,  # type: ignore[attr-defined]
        "style": lambda look: f"{look.family} {look.style}",  # type: ignore[attr-defined]
        "heading": lambda look: look.naming,  # type: ignore[attr-defined]
        "language": lambda look: look.tongue,  # type: ignore[attr-defined]
        "scale": lambda look: f"{look.scale:g}",  # type: ignore[attr-defined]
        "ground": lambda look: "dark" if look.dark else "light",  # type: ignore[attr-defined]
        "on": lambda look: "desktop" if look.window else "whole screen",  # type: ignore[attr-defined]
        "quality": lambda look: f"crf {look.quality}",  # type: ignore[attr-defined]
        "frames a second": lambda look: f"{look.rate}",  # type: ignore[attr-defined]
    }
    for way, of in ways.items():
        shares: dict[str, Shares] = defaultdict(Shares)
        for look, found in every:
            for outcome in found:
                shares[of(look)].add(outcome)
        print(f"\n| {way} | " + " | ".join(Shares.__struct_fields__) + " |\n|" + "---|" * 8)
        for name, each in sorted(shares.items()):
            cells = [
                f"{right / total:.0%} of {total}" if total else "" for right, total in msgspec.structs.astuple(each)
            ]
            print(f"| {name} | " + " | ".join(cells) + " |")


def wrong(films: Iterable[Path]) -> Iterator[str]:
    """A line for everything that is not as it should be."""
    for film in films:
        for each in outcomes(film):
            meant, span = each.meant, each.span
            if meant is None and span is not None:
                yield f"{film.stem} {span.start / 1000:6.1f} FALSE  “{span.title}” {span.kind} waiting={span.waiting} dialog={span.dialog}"
            elif meant is not None and span is None:
                yield f"{film.stem} {meant.start:6.1f} MISSED “{meant.title}” {meant.kind} dialog={meant.dialog}"
            elif meant is not None and span is not None and meant.title and not each.titled:
                yield f"{film.stem} {meant.start:6.1f} TITLE  “{meant.title}” / “{meant.question}” was read as “{span.title}” / “{span.question}” {sure_of(span)}"
            elif meant is not None and span is not None and not each.asked:
                yield f"{film.stem} {meant.start:6.1f} ASKED  “{meant.title}” / “{meant.question}” was read as “{span.question}”"
            elif meant is not None and span is not None and not meant.dialog and not same_kind(meant, span):
                yield f"{film.stem} {meant.start:6.1f} KIND   “{span.title}” / “{span.question}” is {meant.kind}, said {span.kind}"


def film(folder: Path, seed: int) -> None:
    """Films one look, twice, where it is not there yet."""
    look = look_of(seed)
    for again, path in enumerate(
        (folder / f"{seed:03d}.mp4", folder / f"{seed:03d}-again.mp4")[: 1 if seed % 4 else 2]
    ):
        if not path.with_suffix(".json").exists():
            write_film(look, path, again)


def way(folder: Path, seed: int) -> None:
    """Films the whole way of one look, where it is not there yet."""
    look, path = look_of(seed), folder / f"{seed:03d}.mp4"
    if look.family not in TEXT and not path.with_suffix(".json").exists():
        write_whole_way(look, path)


def read(film: Path) -> None:
    """Goes through a film and keeps its pages as they were read: nobody's words stand on them."""
    found = found_in_frames(Film(str(film)).frames(), LineReader(Tesseract()), lambda _: True)
    film.with_suffix(".pages").write_bytes(b"\n".join(msgspec.json.encode(each.page) for each in found))


def guard() -> bool:
    """Draws, films and reads one look of each toolkit that is here, in the languages that pip brings; whether all bounds are kept."""
    counts, drawn = Shares(), []
    with tempfile.TemporaryDirectory() as name:
        for family in STYLES:
            look = next(
                look
                for seed in count(_GUARDED)
                if (look := look_of(seed)).family == family and look.tongue in {"eng", "deu"}
            )
            path = Path(name) / f"{look.seed}.mp4"
            try:
                write_film(look, path)
            except (OSError, subprocess.CalledProcessError, ImportError) as error:
                print(f"{family} cannot draw here: {error}")
                continue
            drawn.append(path)
        with ProcessPoolExecutor(2) as pool:
            list(pool.map(read, drawn))
        for path in drawn:
            for outcome in outcomes(path):
                counts.add(outcome)
    kept = True
    for what, (least, most) in _BOUNDS.items():
        right, total = getattr(counts, what)
        share = right / total if total else 0.0
        kept = kept and least <= share <= most
        print(f"{what}: {share:.0%} of {total}, to lie between {least:.0%} and {most:.0%}")
    return kept


def films_in(folder: Path, again: bool = False) -> list[Path]:
    """The films of a folder. again: those of second installations."""
    return sorted(film for film in folder.glob("*.mp4") if film.stem.endswith("-again") == again)


def main() -> None:
    """Does what was asked for."""
    if sys.argv[1] == "guard":
        sys.exit(not guard())
    what, folder = sys.argv[1], Path(sys.argv[2])
    if what in {"film", "ways"}:
        folder.mkdir(exist_ok=True)
        seeds = range(int(sys.argv[3]), int(sys.argv[4]) + 1)
        with ProcessPoolExecutor(2) as pool:
            list(pool.map(film if what == "film" else way, [folder] * len(seeds), seeds))
    elif what == "read":
        with ProcessPoolExecutor(2) as pool:
            list(pool.map(read, films_in(folder) + films_in(folder, again=True)))
    elif what == "table":
        table(films_in(folder))
    elif what == "known":
        table(films_in(folder, again=True))
        table(films_in(folder, again=True), second)
    else:
        chosen = [one for one in films_in(folder) if len(sys.argv) < 4 or one.stem == sys.argv[3]]
        print("\n".join(wrong(chosen)))


if __name__ == "__main__":
    main()
