"""Writing: whole or not at all, and never over a lock."""

import errno
import os
import stat
import tempfile
import threading
import unittest
from pathlib import Path
from unittest import mock

from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.store.local import files


class Files(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        self.path = self.folder / "a.metro"

    def test_append_completes_a_torn_line_first(self) -> None:
        self.path.write_text("0:01 screen La")
        files.append(self.path, "0:02 wait\n")
        self.assertEqual(self.path.read_text(), "0:01 screen La\n0:02 wait\n")

    def test_a_full_disk_leaves_the_file_as_it_was(self) -> None:
        self.path.write_text("0:01 wait\n")
        real = os.write

        def half_then_full(handle: int, data: bytes) -> int:
            if len(data) < 20:
                raise OSError(errno.ENOSPC, os.strerror(errno.ENOSPC))
            return real(handle, data[: len(data) // 2])

        with mock.patch("os.write", half_then_full), self.assertRaisesRegex(NotWritableError, "No space left"):
            files.append(self.path, "0:02 note " + "x" * 60 + "\n")
        self.assertEqual(self.path.read_text(), "0:01 wait\n")

    def test_nothing_is_acknowledged_that_did_not_reach_the_disk(self) -> None:
        self.path.write_text("")
        with mock.patch("os.fsync", side_effect=OSError(errno.EIO, "lost")), self.assertRaises(NotWritableError):
            files.append(self.path, "0:02 wait\n")
        self.assertEqual(self.path.read_text(), "")

    def test_create_never_overwrites_and_replace_does(self) -> None:
        self.assertTrue(files.create(self.path, "one"))
        self.assertFalse(files.create(self.path, "two"))
        self.assertEqual(self.path.read_text(), "one")
        files.replace(self.path, "three")
        self.assertEqual(self.path.read_text(), "three")
        self.assertEqual([path.name for path in self.folder.iterdir()], ["a.metro"])

    def test_a_failed_replace_leaves_the_old_content_and_no_litter(self) -> None:
        self.path.write_text("old")
        with mock.patch("os.fsync", side_effect=OSError(errno.EIO, "lost")), self.assertRaises(NotWritableError):
            files.replace(self.path, "new")
        self.assertEqual([path.read_text() for path in self.folder.iterdir()], ["old"])

    def test_a_new_name_is_on_the_disk_as_well_as_its_content(self) -> None:
        flushed: list[tuple[bool, bool]] = []
        real = os.fsync

        def flush(handle: int) -> None:
            flushed.append((stat.S_ISDIR(os.fstat(handle).st_mode), self.path.exists()))
            real(handle)

        for write in (files.create, files.replace):
            with mock.patch("os.fsync", flush):
                write(self.path, "new")
            self.assertEqual(flushed[-1], (True, True))  # the folder, and after the file has its name
        self.assertEqual(flushed[0], (False, False))

    def test_one_holds_the_lock_at_a_time(self) -> None:
        order: list[str] = []

        def second() -> None:
            with files.locked(self.folder):
                order.append("second")

        with files.locked(self.folder):
            other = threading.Thread(target=second)
            other.start()
            other.join(0.05)
            order.append("first")
        other.join()
        self.assertEqual(order, ["first", "second"])

    def test_a_lock_that_is_never_let_go_is_given_up_on(self) -> None:
        refused = self.assertRaisesRegex(NotWritableError, "another program")
        patience = mock.patch.object(files, "_PATIENCE", 0.01)
        with files.locked(self.folder), patience, refused, files.locked(self.folder):
            self.fail("two hold the lock")

    def test_missing_files_and_folders_are_said(self) -> None:
        with self.assertRaisesRegex(MetrographError, "there is no run log"):
            files.read_bytes(self.path, "run log")
        with self.assertRaisesRegex(MetrographError, "is a folder, and no run log"):
            files.read_bytes(self.folder, "run log")
        with self.assertRaisesRegex(NotWritableError, "cannot be written"):
            files.replace(self.folder / "gone" / "b", "x")

    def test_a_pipe_is_read_to_its_end_and_not_waited_for_without_one(self) -> None:
        os.mkfifo(self.path)
        writer = threading.Thread(target=lambda: self.path.write_bytes(b"told " * 20_000))
        writer.start()
        self.assertEqual(files.read_bytes(self.path, "notes"), b"told " * 20_000)
        writer.join()
        with (
            mock.patch.object(files, "_PATIENCE", 0.01),
            self.assertRaisesRegex(MetrographError, "nothing was written"),
        ):
            files.read_bytes(self.path, "notes")
        with self.assertRaisesRegex(MetrographError, "no ordinary file"):
            files.read_own(self.path, "run log")

    def test_no_more_is_read_than_a_file_may_hold(self) -> None:
        self.path.write_bytes(b"x" * (1 << 20))
        self.assertEqual(len(files.read_bytes(self.path, "probe's file", 1 << 20)), 1 << 20)
        with self.assertRaisesRegex(MetrographError, "larger than 1 MiB, which no probe's file is"):
            self.path.write_bytes(b"x" * ((1 << 20) + 1))
            files.read_bytes(self.path, "probe's file", 1 << 20)
        with self.assertRaisesRegex(MetrographError, "no ordinary file"):
            files.read_bytes(Path("/dev/zero"), "notes")

    def test_mode_owner_and_links_stay(self) -> None:
        self.path.write_text("old")
        self.path.chmod(0o640)
        link, other = self.folder / "link", self.folder / "other"
        link.symlink_to(self.path)
        files.replace(link, "new")
        self.assertEqual((link.is_symlink(), self.path.read_text()), (True, "new"))
        self.assertEqual(stat.S_IMODE(self.path.stat().st_mode), 0o640)
        other.hardlink_to(self.path)
        files.replace(self.path, "shared")
        self.assertEqual((other.read_text(), self.path.stat().st_nlink), ("shared", 2))

    def test_no_link_that_was_laid_in_the_way_is_followed(self) -> None:
        victim = self.folder / "victim"
        victim.write_text("precious")
        with mock.patch("os.urandom", return_value=b"\0" * 8):
            (self.folder / f".a.metro.{'00' * 8}.new").symlink_to(victim)
            with self.assertRaises(NotWritableError):
                files.create(self.path, "x")
        self.assertEqual(victim.read_text(), "precious")

    def test_a_file_system_without_hard_links(self) -> None:
        with mock.patch.object(Path, "hardlink_to", side_effect=OSError(errno.EPERM, "not permitted")):
            self.assertEqual([files.create(self.path, text) for text in ("one", "two")], [True, False])
        self.assertEqual([path.read_text() for path in self.folder.iterdir()], ["one"])

    def test_what_was_written_is_not_said_to_be_unwritten(self) -> None:
        """The folder cannot be flushed, or what is left beside the file not be taken away: it stands all the same."""
        real = os.open

        def no_folders(path: object, flags: int, *mode: int) -> int:
            if Path(str(path)).is_dir():
                raise OSError(errno.EIO, "lost")
            return real(str(path), flags, *mode)

        with (
            mock.patch("os.open", no_folders),
            mock.patch.object(Path, "unlink", side_effect=OSError(errno.EIO, "lost")),
        ):
            files.create(self.path, "one")
        self.assertEqual(self.path.read_text(), "one")

    def test_what_is_no_ordinary_file_is_not_waited_for(self) -> None:
        os.mkfifo(self.path)
        with self.assertRaisesRegex(MetrographError, "is no ordinary file"):
            files.read_own(self.path, "run log")

    def test_a_line_is_in_the_file_that_an_editor_saved_meanwhile(self) -> None:
        self.path.write_text("0:01 wait\n")
        real = os.fsync

        def saved_by_an_editor(handle: int) -> None:
            real(handle)
            if not (self.folder / "saved").exists():
                (self.folder / "saved").touch()
                other = self.folder / "new"
                other.write_text("0:01 wait\n# a remark\n")
                other.replace(self.path)

        with mock.patch("os.fsync", saved_by_an_editor):
            files.append(self.path, "0:02 ready\n")
        self.assertEqual(self.path.read_text(), "0:01 wait\n# a remark\n0:02 ready\n")
