"""What a probe writes, for tests to change."""

import json
from typing import Any

GOOD: dict[str, Any] = {
    "metrograph-probe": 1, "taken": "2026-05-02T10:30:00+02:00", "state": "installed",
    "facts": [{"name": "kernel", "value": "7.2.4"}, {"name": "host name", "value": "reading-room", "personal": True}],
    "readings": [{"name": "memory", "value": 812 << 20, "unit": "bytes", "load": "rest", "how": None},
                 {"name": "boot time", "value": 15.25, "unit": "s"}, {"name": "packages", "value": 1992.0}],
    "layout": {"table": "gpt", "disk": 25 << 30, "parts": [{"mount": "/", "filesystem": "ext4", "size": 24 << 30}],
               "swap": {"how": "file", "size": 2 << 30}, "crypt": None},
    "software": [{"item": "Writewell", "version": "5.0", "group": "office", "from": "repository"},
                 {"item": "Sheetwell", "version": None, "group": "office", "from": "repository"},
                 {"item": "Loonplay", "version": "1.4", "group": "sound and video", "from": "sandboxed"}],
    "missing": [{"what": "firewall", "why": "none that is known here was found"}],
}  # fmt: skip


def written(**changes: Any) -> bytes:
    return json.dumps(GOOD | changes).encode()
