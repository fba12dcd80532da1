"""Archives on real engines: an object store, a scheduler with workers of which one is killed, writers that are killed."""

import logging
import os
import random
import signal
import socket
import subprocess
import sys
import time
import unittest
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from threading import Thread
from unittest import mock

from metrograph.archive.building import Workers, build
from metrograph.archive.checking import Damage, check
from metrograph.archive.place import ArchivePlace, archive_at
from metrograph.archive.querying import query
from metrograph.archive.repairing import repair
from metrograph.archive.shared_logs import log_names, put
from metrograph.compare.kinship import matrix_of
from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.core.pool import spread
from metrograph.run.route import Route, ScreenKey
from tests.archive.case import ONE, RUNS, ArchiveCase, contents, share, shared
from tests.helpers import ROOT

QUIET = {key: value for key, value in os.environ.items() if key != "PYTHONWARNINGS"} | {"PYTHONPATH": str(ROOT)}
WRITER = """
import sys
from tests.archive.case import ONE, RUNS, shared
from metrograph.archive.building import build
from metrograph.archive.shared_logs import put
from metrograph.archive.place import ArchivePlace
if __name__ == "__main__":
    place, who = ArchivePlace(sys.argv[1]), sys.argv[2]
    for run in RUNS:
        put(place, shared(run, who))
        print(run, flush=True)
    build(place, ONE, size=3)
"""


def many(place: ArchivePlace, reviewers: int) -> None:
    """The demo's runs, of so many reviewers."""
    for number in range(reviewers):
        for run in RUNS:
            put(place, shared(run, f"Reviewer {number}"))


SLOW = unittest.skipUnless(
    os.environ.get("METROGRAPH_ENGINES"), "METROGRAPH_ENGINES asks for object stores, schedulers, killed writers"
)


@SLOW
class ObjectStore(unittest.TestCase):
    def test_an_archive_in_an_object_store_says_what_one_in_a_folder_does(self) -> None:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")  # those of packages that are none of ours
            from moto.server import ThreadedMotoServer

            logging.getLogger("werkzeug").setLevel(logging.ERROR)  # it tells every request
            server = ThreadedMotoServer("127.0.0.1", port=0, verbose=False)
            server.start()
            self.addCleanup(server.stop)
            host, port = server.get_host_and_port()
            keys = {"AWS_ACCESS_KEY_ID": "x", "AWS_SECRET_ACCESS_KEY": "x", "AWS_DEFAULT_REGION": "us-east-1"}
            with mock.patch.dict(os.environ, keys | {"AWS_ENDPOINT_URL": f"http://{host}:{port}"}):
                self.go_through()

    def test_one_that_is_away_is_said_to_be(self) -> None:
        keys = {"AWS_ACCESS_KEY_ID": "x", "AWS_SECRET_ACCESS_KEY": "x", "AWS_MAX_ATTEMPTS": "1"}
        with mock.patch.dict(os.environ, keys | {"AWS_ENDPOINT_URL": "http://127.0.0.1:9"}):
            with self.assertRaisesRegex(MetrographError, "logs cannot be looked for: Could not connect"):
                archive_at("s3://workshop/archive")
            with self.assertRaisesRegex(NotWritableError, "cannot be written: Could not connect"):
                put(ArchivePlace("s3://workshop/archive"), b"x")

    def go_through(self) -> None:
        import s3fs

        s3fs.S3FileSystem(skip_instance_cache=True).mkdir("workshop")
        place, beside = ArchivePlace("s3://workshop/archive"), ArchivePlace("memory://beside")
        for each in (place, beside):
            names = share(each, RUNS[:4])
            build(each, ONE, size=2)
            self.assertEqual(build(each, ONE).logs, 0)
            build_again = build(each, ONE, size=4)
            self.assertEqual((build_again.logs, len(names)), (0, 4))
        self.assertEqual(contents(place), contents(beside))
        repair(place, ONE, patience=-1)
        self.assertEqual((contents(place), check(place, ONE).found), (contents(beside), ()))


@SLOW
class Cluster(ArchiveCase):
    @contextmanager
    def started(self) -> Iterator[tuple[str, list[subprocess.Popen[bytes]]]]:
        """A scheduler and two workers; its address, and the workers."""
        with socket.socket() as free:
            free.bind(("127.0.0.1", 0))
            address = f"127.0.0.1:{free.getsockname()[1]}"
        dask = str(Path(sys.executable).parent / "dask")
        port = address.partition(":")[2]
        commands = [
            [dask, "scheduler", "--host", "127.0.0.1", "--port", port, "--no-dashboard"],
            *[[dask, "worker", f"tcp://{address}", "--nthreads", "1", "--no-nanny", "--no-dashboard"]] * 2,
        ]
        processes = [
            subprocess.Popen(each, env=QUIET, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL, cwd=self.folder)
            for each in commands
        ]
        try:
            yield f"tcp://{address}", processes[1:]
        finally:
            for process in processes:
                process.kill()
                process.wait()

    def test_a_worker_that_is_killed_loses_nothing(self) -> None:
        many(self.place, 6)
        with self.started() as (address, workers), warnings.catch_warnings():
            warnings.simplefilter("ignore")  # those of packages that are none of ours

            def kill() -> None:
                parts = self.folder / "archive/parts"
                until = time.monotonic() + 60
                while time.monotonic() < until and (not parts.is_dir() or len(list(parts.iterdir())) < 4):
                    time.sleep(0.02)
                workers[0].kill()

            killer = Thread(target=kill)
            killer.start()
            built = build(self.place, Workers(cluster=address), size=2)
            killer.join()
        self.assertEqual((built.logs, built.bad), (6 * len(RUNS), {}))
        other = ArchivePlace(str(self.folder / "other"))
        many(other, 6)
        build(other, ONE)
        self.assertEqual(contents(self.place), contents(other))
        harmful = [found for found in check(self.place, ONE).found if not found.harmless]
        self.assertEqual(harmful, [])

    def test_three_commands_from_nothing_to_an_archive_that_two_workers_built(self) -> None:
        text = (ROOT / "README.md").read_text().split("From nothing to a scheduler")[1]
        scheduler, worker, building = text.split("```sh\n")[1].split("\n```")[0].splitlines()
        share(ArchivePlace(str(self.folder / "shared")), RUNS)
        here = QUIET | {"PATH": f"{Path(sys.executable).parent}:{os.environ['PATH']}"}
        beside = [
            subprocess.Popen(["bash", "-c", f"exec {each}"], cwd=self.folder, env=here, stderr=subprocess.DEVNULL)
            for each in (scheduler, worker)
        ]
        try:
            done = subprocess.run(
                ["bash", "-c", building], cwd=self.folder, env=here, capture_output=True, text=True, check=False
            )
        finally:
            for each in beside:
                each.terminate()
                each.wait()
        self.assertEqual((done.returncode, done.stdout), (0, f"shared: {len(RUNS)} logs folded\n"), done.stderr)

    def test_kinship_is_the_same_on_a_cluster(self) -> None:
        routes = [
            Route((ScreenKey(f"Disk {number}", "disk"), ScreenKey("Account", "account"))) for number in range(220)
        ]
        with self.started() as (address, _), warnings.catch_warnings():
            warnings.simplefilter("ignore")  # those of packages that are none of ours
            found = matrix_of(routes, over=spread(address))
        self.assertTrue((found == matrix_of(routes)).all())


@SLOW
class Killed(ArchiveCase):
    def test_two_writers_that_are_killed_lose_and_double_nothing(self) -> None:
        chance, told = random.Random(17), {"a": set[str](), "b": set[str]()}
        (self.folder / "writer.py").write_text(WRITER)
        for _ in range(4):
            writers = {
                who: subprocess.Popen(
                    [sys.executable, str(self.folder / "writer.py"), self.place.url, who],
                    env=QUIET,
                    stdout=subprocess.PIPE,
                )
                for who in told
            }
            time.sleep(chance.uniform(0.6, 2.0))
            for who, writer in writers.items():
                writer.send_signal(signal.SIGKILL)
                out, _ = writer.communicate()
                told[who] |= set(out.decode().split())
        build(self.place, ONE)
        rows = query(self.place, "SELECT reviewer, run FROM runs").rows
        self.assertEqual(len(rows), len(set(rows)))
        self.assertEqual({(who, run) for who, runs in told.items() for run in runs} - set(rows), set())
        self.assertEqual(len(log_names(self.place)), len(rows))
        self.assertLessEqual(
            {found.damage for found in check(self.place, ONE).found},
            {Damage.HALF_WRITTEN, Damage.REPEATED, Damage.WITHOUT_LIST},
        )


if __name__ == "__main__":
    unittest.main()
