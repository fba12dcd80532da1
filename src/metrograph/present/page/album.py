"""The album as the page has it: small pictures side by side, each larger when it is pressed."""

from __future__ import annotations

import base64
from pathlib import Path
from typing import Any

from metrograph.present.charts.album import differing, picture_path, read_picture
from metrograph.present.charts.layouts.album import Album, AlbumCell


def album_block(album: Album) -> dict[str, Any]:
    """What the template needs: rows of cells, each with its picture inside the page where it has one."""
    return {
        "kind": "album",
        "names": album.names,
        "rows": [{"title": row.title, "cells": _cells(Path(album.folder), row.cells)} for row in album.rows],
    }


def _cells(folder: Path, cells: tuple[AlbumCell | None, ...]) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = []
    before: Any = None
    for cell in cells:
        picture = read_picture(folder, cell)
        changed = picture is not None and before is not None and bool(differing(before, picture))
        before = picture if picture is not None else before
        found.append(
            {
                "title": "" if cell is None else cell.title,
                "told": "not there" if cell is None else "no picture",
                "data": "" if picture is None else _data(folder, cell),
                "changed": changed,
            }
        )
    return found


def _data(folder: Path, cell: AlbumCell | None) -> str:
    path = picture_path(folder, cell)
    kind = "webp" if path is None else path.suffix.removeprefix(".").lower()
    data = b"" if path is None else path.read_bytes()
    return f"data:image/{'jpeg' if kind == 'jpg' else kind};base64,{base64.b64encode(data).decode()}"
