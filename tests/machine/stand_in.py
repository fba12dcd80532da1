"""Stands in for a virtual machine monitor: speaks its control protocol, shows a few screens, and does as it was told.

Called as the monitor is; what it was called with is written beside its disk's folder, into ``METROGRAPH_STAND_IN``.
"""

from __future__ import annotations

import json
import os
import re
import socket
import sys
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from tests.e2e.test_watching import SCREENS, shown
from tests.watch.server import hello, raw, update

EACH = 1.3  # seconds for which a screen stands


def main() -> None:
    notes = Path(os.environ["METROGRAPH_STAND_IN"])
    if sys.argv[1:2] == ["create"]:  # the program that makes disks
        Path(sys.argv[-2]).write_bytes(b"")
        return
    words = " ".join(sys.argv[1:])
    (notes / "called").write_text(words)
    (notes / "number").write_text(str(os.getpid()))
    fails = "-accel kvm" in words and (notes / "broken-processors").exists()
    control, display = (_listening(words, pattern) for pattern in (r"id=control,path=([^, ]+)", r"unix:([^, ]+)"))
    on, over = threading.Event(), threading.Event()
    threading.Thread(target=_show, args=(display, on, over), daemon=True).start()
    link, _ = control.accept()
    _obey(link, on, over, "internal-error" if fails else "running")


def _listening(words: str, pattern: str) -> socket.socket:
    match = re.search(pattern, words)
    assert match is not None
    server = socket.socket(socket.AF_UNIX)
    server.bind(match[1])
    server.listen()
    return server


def _obey(link: socket.socket, on: threading.Event, over: threading.Event, status: str) -> None:
    """Answers every command; when all was shown it switches itself off."""

    def say(message: object) -> None:
        link.sendall(json.dumps(message).encode() + b"\n")

    say({"QMP": {"version": {"qemu": {"major": 7, "minor": 2, "micro": 0}, "package": ""}, "capabilities": []}})
    written = 0

    def end() -> None:
        over.wait()
        say(
            {
                "event": "SHUTDOWN",
                "data": {"guest": True, "reason": "guest-shutdown"},
                "timestamp": {"seconds": 1, "microseconds": 0},
            }
        )
        time.sleep(0.3)
        os._exit(0)

    threading.Thread(target=end, daemon=True).start()
    for asked in _messages(link):
        command = asked["execute"]
        answer: Any = {}
        if command == "query-kvm":
            answer = {"enabled": "-accel kvm" in " ".join(sys.argv), "present": True}
        elif command == "query-status":
            answer = {"status": status, "running": status == "running"}
        elif command == "query-blockstats":
            written += 1 << 24
            answer = [{"device": "disk", "stats": {"wr_bytes": written}}]
        elif command == "cont" and status == "running":
            on.set()
        say({"return": answer, "id": asked["id"]} if "id" in asked else {"return": answer})


def _messages(link: socket.socket) -> Iterator[dict[str, Any]]:
    """What comes, message by message: nothing but their own brackets ends them."""
    text = ""
    while data := link.recv(4096):
        text += data.decode()
        while text:
            try:
                message, end = json.JSONDecoder().raw_decode(text)
            except ValueError:
                break
            yield message
            text = text[end:].lstrip()


def _show(display: socket.socket, on: threading.Event, over: threading.Event) -> None:
    """Every screen for a moment, to whoever looks; keys and presses of any viewer are written down."""
    on.wait()

    def talk(link: socket.socket) -> None:
        def listen() -> None:
            heard = b""
            while data := link.recv(4096):
                heard += data
                (Path(os.environ["METROGRAPH_STAND_IN"]) / f"heard-{threading.get_ident()}").write_bytes(heard)

        threading.Thread(target=listen, daemon=True).start()
        for part in hello(size=(640, 400)):
            link.sendall(part)
        for number in range(len(SCREENS)):
            link.sendall(update(raw(0, 0, shown(number))))
            time.sleep(EACH)
        over.set()

    while True:
        link, _ = display.accept()
        threading.Thread(target=talk, args=(link,), daemon=True).start()


if __name__ == "__main__":
    main()
