"""A picture that was kept in the logbook, as a source: one cue that shows it."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime

from metrograph.log.cues import Cue
from metrograph.sources.protocol import Event, Outside
from metrograph.store.local.pictures import Picture


class KeptPicture:
    """A ``Source``. Its time is that of the picture's file where that lies within the run, and now where not."""

    name = "the picture"
    outside = Outside.NOW

    def __init__(self, picture: Picture) -> None:
        self.picture = picture

    def events(self) -> Iterator[Event]:
        """The picture."""
        cue = Cue(0, "shot", None, self.picture.path, (("sha256", self.picture.sha256),))
        yield Event(cue, wall=datetime.fromtimestamp(self.picture.taken).astimezone(), evidence=self.picture.path)
