"""The timelines and the album as the page has them: they answer when they are pointed at or pressed."""

from __future__ import annotations

import base64
from collections.abc import Mapping
from contextlib import suppress
from pathlib import Path
from typing import Any

import msgspec

from metrograph.core.bare_pictures import bare
from metrograph.core.errors import MetrographError
from metrograph.log.quantities.times import show_duration, show_moment
from metrograph.show.charts.album_chart import differing, picture_path, read_picture
from metrograph.show.charts.layouts.album_layout import Album, AlbumCell
from metrograph.show.charts.layouts.axis import fading, round_moments
from metrograph.show.charts.layouts.lanes_layout import Bar, Lane, Lanes
from metrograph.show.palette import colours
from metrograph.show.terminal.text import shorten
from metrograph.store.local.files import read_own


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
    """A picture for the page; nothing where it cannot be read. Made anew, as nobody knows who put the file there."""
    path = picture_path(folder, cell)
    data, ending = b"", ".webp"
    with suppress(MetrographError, ValueError):
        data, ending = (data, ending) if path is None else bare(read_own(path, "picture"))
    kind = {".jpg": "jpeg"}.get(ending, ending.removeprefix("."))
    return f"data:image/{kind};base64,{base64.b64encode(data).decode()}"


_WIDTH, _LEFT, _RIGHT, _LANE = 1200.0, 190.0, 70.0, 30.0  # units of the picture
_LONGEST_NAME = 26  # letters of a name beside its lane; what is longer is whole in the table


def timelines(lanes: Lanes, rows: Mapping[str, int]) -> dict[str, Any]:
    """What the template needs to draw the lanes. rows: of the merged flow, by titles of screens."""
    room = _WIDTH - _LEFT - _RIGHT
    scale = room / max(lanes.length, 1.0)
    hues = colours(lanes.phases)
    return {
        "width": _WIDTH,
        "height": _LANE * len(lanes.lanes) + 26,
        "left": _LEFT,
        "room": room,
        "phases": [{"name": phase, "fill": hues[phase]} for phase in lanes.phases],
        "moments": [
            {"x": round(_LEFT + moment * scale, 1), "text": show_moment(moment)}
            for moment in round_moments(lanes.length, 10)
        ],
        "lanes": [_lane(lane, place, scale, hues, rows) for place, lane in enumerate(lanes.lanes)],
        "issues": lanes.issues,
        "fades": any(bar.fade > bar.end for lane in lanes.lanes for bar in lane.bars),
        "torn": any(bar.torn for lane in lanes.lanes for bar in lane.bars),
    }


def _lane(lane: Lane, place: int, scale: float, hues: dict[str, str], rows: Mapping[str, int]) -> dict[str, Any]:
    phases = {mark.label: round(mark.at * scale, 1) for mark in lane.phases}
    total = show_duration(lane.total)
    return {
        "name": shorten(lane.name, _LONGEST_NAME),
        "y": _LANE * place,
        "total": total,
        "told": f"{lane.name}: {total}",
        "end": round(lane.end * scale, 1),
        "phases": msgspec.json.encode(phases).decode(),
        "bars": [_bar(bar, scale, hues) for bar in lane.bars],
        "screens": [
            {
                "x": round(mark.at * scale - 1, 1),
                "row": rows.get(mark.label, 0),
                "told": f"{mark.label}, {show_moment(mark.at)}",
            }
            for mark in lane.screens
        ],
        "issues": [{"x": round(mark.at * scale, 1), "text": mark.label} for mark in lane.issues],
    }


def _bar(bar: Bar, scale: float, hues: dict[str, str]) -> dict[str, Any]:
    return {
        "x": round(bar.start * scale, 1),
        "width": max(round((bar.end - bar.start) * scale, 1), 0.2),
        "fades": [
            {"x": round(left * scale, 1), "width": round(width * scale, 2), "opacity": round(1 - share, 2)}
            for left, width, share in fading(bar.end, bar.fade)
        ],
        "torn": round(bar.end * scale, 1) if bar.torn else None,
        "fill": hues[bar.phase],
        "waiting": bar.who == "machine",
        "failed": bar.failed,
        "aside": bar.aside,
        "told": f"{bar.phase}, {'looking around' if bar.aside else 'waiting' if bar.who == 'machine' else 'hands-on'}",
    }
