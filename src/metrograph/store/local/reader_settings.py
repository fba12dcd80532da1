"""Reads whom releases are chosen for from the settings of a logbook; what is wrong in one leaves the others whole."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from metrograph.core.errors import MetrographError
from metrograph.log.cues import Fault
from metrograph.log.faults import Faults, Unreadable, suggest
from metrograph.log.quantities.quantity import Quantity, parse_quantity
from metrograph.run.readers import WEIGHTS, Reader, Relation, Requirement, Wish
from metrograph.store.ids import unknown
from metrograph.store.local.files import read_own, replace
from metrograph.store.local.logbook import MARK, Logbook, shown_path
from metrograph.store.local.toml_places import line_of, places

_TABLE = "readers"
_KEYS = ("about", "required", "wishes", "weights")
_WISH = ("weight", "from", "to")
_RESULTS = ("pass", "fail", "partly", "skipped")
_COMPARED = re.compile(r"(?P<name>[^<>=≤≥]+?)\s*(?P<sign><=|>=|<|>|≤|≥)\s*(?P<limit>.+)")
_HAS = re.compile(r"(?P<how>carries|lacks)\s+(?P<name>\S.*)")
_IS = re.compile(r"(?P<name>[^:]+?)\s*:\s*(?P<value>\S.*)")
_SIGNS = {"≤": "<=", "≥": ">="}
_EXPECTED = "such as “memory (updated) <= 1.5 GiB”, “wireless: pass” or “carries office”"
_EXPECTED_WISH = 'a weight, or a table: { weight = 2, from = "1.5 GiB", to = "500 MiB" }'
_LARGEST, _LONGEST_NAME = 1000.0, 60  # a weight, and letters of a name: beyond that a typing error is likelier
EXPECTED_NAME = "small letters and digits, such as hand-out"


def load_readers(logbook: Logbook) -> tuple[dict[str, Reader], tuple[Fault, ...]]:
    """The readers of a logbook by name, and what is wrong with any; a wrong one has what could be read of it."""
    return parse_readers(*_settings_of(logbook))


def find_reader(logbook: Logbook, name: str) -> Reader:
    """A reader by name; raises MetrographError when it is not there, or is wrong."""
    reading = _read(*_settings_of(logbook))
    if name not in reading.readers:
        raise unknown("reader", name, list(reading.readers), "“metrograph readers new NAME” writes one")
    wrong = reading.wrong.get(name)
    if wrong is not None:
        raise MetrographError(wrong)
    return reading.readers[name]


def _settings_of(logbook: Logbook) -> tuple[str, str]:
    """The text of a logbook's settings, and what their file is called."""
    path = logbook.path / MARK
    return logbook.settings_text(), shown_path(path)


def parse_readers(text: str, file: str) -> tuple[dict[str, Reader], tuple[Fault, ...]]:
    """The readers that settings hold; see ``load_readers``. What is not TOML at all has none."""
    reading = _read(text, file)
    return reading.readers, reading.faults.in_order()


def _read(text: str, file: str) -> _ReaderTable:
    import tomllib

    reading = _ReaderTable(text, file)
    try:
        table = tomllib.loads(text).get(_TABLE, {})
    except (ValueError, RecursionError):
        return reading  # whoever reads the settings says so
    if not isinstance(table, dict):
        reading.add((), f"“{_TABLE}” has a wrong value", "", "a table for each reader: [readers.NAME]")
        return reading
    for name, said in table.items():
        if not is_reader_name(name):
            reading.add((name,), f"“{name}” is no name for a reader", "", EXPECTED_NAME)
        elif not isinstance(said, dict):
            reading.add((name,), f"the reader “{name}” has a wrong value", str(said), f"a table: [readers.{name}]")
        else:
            reading.readers[name] = reading.reader(name, said)
    return reading


def is_reader_name(name: str) -> bool:
    """Whether a reader may go by this name, which stands in commands and in names of files."""
    return re.fullmatch(r"[a-z0-9]+(?:-[a-z0-9]+)*", name) is not None and len(name) <= _LONGEST_NAME


class _ReaderTable:
    """Reads tables of readers, and gathers what is wrong; of each reader also the first that is."""

    def __init__(self, text: str, file: str) -> None:
        self.text, self.file, self.faults, self.places = text, file, Faults(file), places(text)
        self.readers: dict[str, Reader] = {}
        self.wrong: dict[str, str] = {}

    def add(self, place: tuple[str, ...], message: str, found: str = "", expected: str = "") -> None:
        """Notes a fault at a value of a reader, or within a list where the file has it."""
        line = line_of((_TABLE, *place), self.places, self.text, found)
        self.faults.add(line, 1, message, found, expected)
        if place:
            told = f"; expected: {expected}" if expected else ""
            self.wrong.setdefault(place[0], f"{self.file}:{line}: {message}{told}")

    def reader(self, name: str, said: Mapping[str, Any]) -> Reader:
        for key in said:
            if key not in _KEYS:
                self.add((name, key), f"the reader “{name}” has no “{key}”", key, suggest(key, _KEYS))
        about = said.get("about", "")
        if not isinstance(about, str):
            self.add((name, "about"), f"“about” of the reader “{name}” has a wrong value", "", "text in quotes")
            about = ""
        required = list(self.listed(name, said.get("required", [])))
        wishes = list(self.table(name, said.get("wishes", {})))
        if not said.get("required") and not said.get("wishes"):
            self.add((name,), f"the reader “{name}” neither requires nor wishes for anything", "", "required or wishes")
        return Reader(name, about, tuple(required), tuple(wishes), self.weights(name, said.get("weights", WEIGHTS)))

    def weights(self, name: str, value: object) -> float:
        if isinstance(value, int | float) and not isinstance(value, bool) and 1 <= value <= _LARGEST:
            return float(value)
        self.add(
            (name, "weights"), f"“weights” of the reader “{name}” has a wrong value", str(value), "a factor from 1"
        )
        return WEIGHTS

    def listed(self, name: str, values: object) -> Iterator[Requirement]:
        """What is required, one by one."""
        if not isinstance(values, list):
            self.add(
                (name, "required"), f"“required” of the reader “{name}” is no list", "", f"a list of texts, {_EXPECTED}"
            )
            return
        for value in values:
            try:
                yield parse_requirement(value if isinstance(value, str) else repr(value))
            except Unreadable as wrong:
                self.add(
                    (name, "required"), f"“{value}” cannot be required: {wrong.message}", str(value), wrong.expected
                )

    def table(self, name: str, values: object) -> Iterator[Wish]:
        """The wishes, one by one."""
        if not isinstance(values, dict):
            self.add((name, "wishes"), f"“wishes” of the reader “{name}” is no table", "", f"[readers.{name}.wishes]")
            return
        for wish, said in values.items():
            try:
                yield parse_wish(wish, said)
            except Unreadable as wrong:
                self.add((name, "wishes", wish), f"the wish “{wish}”: {wrong.message}", wrong.found, wrong.expected)


def parse_requirement(text: str) -> Requirement:
    """What is required, as it is written; raises Unreadable."""
    plain = " ".join(text.split())
    if has := _HAS.fullmatch(plain):
        return Requirement(plain, has["name"], Relation(has["how"]))
    if compared := _COMPARED.fullmatch(plain):
        relation = Relation(_SIGNS.get(compared["sign"], compared["sign"]))
        return Requirement(plain, compared["name"], relation, _exact(compared["limit"]))
    if said := _IS.fullmatch(plain):
        return Requirement(plain, said["name"], Relation.IS, value=said["value"])
    raise Unreadable("nothing says how it is to be", plain, _EXPECTED)


def parse_wish(name: str, said: object) -> Wish:
    """A wish from its weight alone, or from a table; raises Unreadable."""
    table = said if isinstance(said, dict) else {"weight": said}
    wrong = next((key for key in table if key not in _WISH), None)
    if wrong is not None:
        raise Unreadable(f"there is no “{wrong}”", wrong, suggest(wrong, _WISH))
    weight = table.get("weight", 1)
    if isinstance(weight, bool) or not isinstance(weight, int | float) or not 0 < weight <= _LARGEST:
        raise Unreadable("its weight cannot be read", str(weight), f"{_EXPECTED_WISH}, the weight above 0")
    if ("from" in table) != ("to" in table):
        raise Unreadable("it says only one of from and to", "", "both, or none of them")
    if "from" not in table:
        return Wish(name, float(weight))
    worst, best = _exact(table["from"]), _exact(table["to"])
    if worst.unit != best.unit:
        raise Unreadable(f"“{worst.text}” and “{best.text}” are in different units", best.text, "one unit for both")
    if worst.amount == best.amount:
        raise Unreadable(
            f"it goes from “{worst.text}” to the same", best.text, "from what is worth nothing to the best"
        )
    return Wish(name, float(weight), worst, best)


def _exact(value: object) -> Quantity:
    """One figure with its unit; a bare number is a count."""
    said = f"{value:g}" if isinstance(value, int | float) and not isinstance(value, bool) else value
    quantity = parse_quantity(said) if isinstance(said, str) else None
    if quantity is None or quantity.amount is None or not quantity.amount.exact:
        raise Unreadable(
            f"“{said}” is no single figure", str(said), "one figure with its unit: 1.5 GiB, 20:00, 7 of 10"
        )
    return quantity


def add_reader(logbook: Logbook, reader: Reader) -> None:
    """Writes a reader at the end of the settings, the rest of which stays; raises MetrographError when it is there."""
    replace(logbook.path / MARK, with_reader(logbook, reader))


def with_reader(logbook: Logbook, reader: Reader) -> str:
    """The settings with a reader at their end; raises MetrographError when it is there."""
    import tomlkit

    path = logbook.path / MARK
    if reader.name in load_readers(logbook)[0]:
        raise MetrographError(f"{shown_path(path)} has a reader “{reader.name}” already; change it there")
    document = tomlkit.parse(read_own(path, "logbook settings").decode())
    table = tomlkit.table()
    if reader.about:
        table["about"] = reader.about
    if reader.required:
        table["required"] = [each.text for each in reader.required]
    wishes = tomlkit.table()
    for wish in reader.wishes:
        said = tomlkit.inline_table()
        said["weight"] = int(wish.weight) if wish.weight.is_integer() else wish.weight
        if wish.worst is not None and wish.best is not None:
            said["from"], said["to"] = wish.worst.text, wish.best.text
        wishes[wish.name] = said
    if reader.wishes:
        table["wishes"] = wishes
    document.setdefault(_TABLE, tomlkit.table(is_super_table=True))[reader.name] = table
    return tomlkit.dumps(document)
