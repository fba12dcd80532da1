"""Says which program has made something that is kept, so that what another would make differently is made anew."""

from __future__ import annotations

import hashlib
import re
from functools import cache
from pathlib import Path

PACKAGE = Path(__file__).parents[1]
_IMPORTED = re.compile(r"^\s*(?:from|import) (metrograph[\w.]*)(?: import \(?([\w, ]+))?", re.MULTILINE)


@cache
def made_by(*modules: str) -> str:
    """The SHA-256 of all sources and tables that have a say in what some modules make."""
    total = hashlib.sha256()
    for path in makers(*modules):
        data = path.read_bytes()
        total.update(f"{path.relative_to(PACKAGE).as_posix()} {len(data)}\n".encode())
        total.update(data)
    return total.hexdigest()


def makers(*modules: str) -> list[Path]:
    """The sources of modules and of all that these import, directly or not, and the tables beside and below them."""
    found: dict[str, Path] = {}
    waiting = list(modules)
    while waiting:
        module = waiting.pop()
        path = _source_of(module)
        if path is None or module in found:
            continue
        found[module] = path
        for name, parts in _IMPORTED.findall(path.read_text("utf-8")):
            waiting += [name, *(f"{name}.{part.strip()}" for part in parts.split(","))]
    folders = {path.parent for path in found.values()} - {PACKAGE}
    return sorted({*found.values(), *(table for folder in folders for table in folder.rglob("*.toml"))})


def _source_of(module: str) -> Path | None:
    """The file of a module; None where there is no such module, or it is a folder."""
    path = PACKAGE.joinpath(*module.split(".")[1:]).with_suffix(".py")
    return path if path.is_file() else None
