"""The screens of a run as chapters for the recording that was made of it: WebVTT."""

from __future__ import annotations

from metrograph.model.cues import Log

_SHORTEST = 1000  # milliseconds of a chapter; a shorter one could not be jumped to


def to_chapters(log: Log, starts: int = 0) -> str:
    """A chapter for each screen, from when it comes up until the next does.

    starts: where on the run's time the recording begins, in milliseconds. Times are those of the file, as the recording
    runs; what comes before it is left out.
    """
    cues = log.by_time()
    fronts = [(cue.at, cue.text) for cue in cues if cue.verb == "screen"]
    last = cues[-1].at if cues else 0
    text = "WEBVTT\n"
    for number, (at, title) in enumerate(fronts, 1):
        end = fronts[number][0] if number < len(fronts) else max(last, at + _SHORTEST)
        begin, end = at - starts, max(end, at + _SHORTEST) - starts
        if end > 0:
            text += f"\n{number}\n{_time(max(begin, 0))} --> {_time(end)}\n{_title(title)}\n"
    return text


def _title(text: str) -> str:
    """A title on one line, in which nothing is markup or ends the chapter."""
    plain = " ".join(text.split()).replace("&", "&amp;").replace("<", "&lt;").replace(">", "&gt;")
    return "".join(sign for sign in plain if sign.isprintable()) or "(no title)"


def _time(milliseconds: int) -> str:
    seconds, rest = divmod(milliseconds, 1000)
    minutes, second = divmod(seconds, 60)
    hours, minute = divmod(minutes, 60)
    return f"{hours:02}:{minute:02}:{second:02}.{rest:03}"
