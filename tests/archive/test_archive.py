"""A shared archive: nothing lost, nothing doubled, every damage named, no question that does anything but ask."""

import contextlib
import os
import shutil
import subprocess
import sys
import unittest
from pathlib import Path
from unittest import mock

import msgspec

from metrograph.archive import building
from metrograph.archive.answers import Like, followed_in, met, standing
from metrograph.archive.building import build, derive, make_part
from metrograph.archive.checking import Damage, check
from metrograph.archive.deriving import name_of
from metrograph.archive.nearest import flows_of, nearest_in
from metrograph.archive.parts import ArchivePart, TableFile, catalogue, list_path, put_part
from metrograph.archive.place import ArchivePlace
from metrograph.archive.querying import opened, query
from metrograph.archive.repairing import repair
from metrograph.archive.shared_logs import Tombstone, log_names, log_path, put, read_log, take_back
from metrograph.compare.kinship import kin_to
from metrograph.core.errors import MetrographError, NotWritableError
from metrograph.log.quantities.ranges import Range
from tests.archive.case import ONE, RUNS, ArchiveCase, another_program, contents, share, shared

OLD = Path(__file__).parent / "old"


class Sharing(ArchiveCase):
    def test_sharing_twice_adds_nothing_and_what_was_shared_comes_back(self) -> None:
        first = share(self.place, RUNS[:2])
        self.assertEqual((share(self.place, RUNS[:2]), log_names(self.place)), (first, sorted(first)))
        log, faults = read_log(self.place, first[0])
        self.assertEqual(
            (log.header.other("shared-as"), log.header.other("rig-memory"), faults), (RUNS[0], str(4 << 30), ())
        )

    def test_no_name_leads_out_of_the_archive(self) -> None:
        for name in ("../x", "logs/../../x", "/etc/passwd", "logs/x y", "", ".hidden", "a/.b"):
            for act in (self.place.read, self.place.has, self.place.address, lambda n: self.place.add(n, b"")):
                with self.assertRaises(MetrographError):
                    act(name)

    def test_a_file_that_is_written_is_not_there_yet(self) -> None:
        share(self.place, RUNS[:1])
        (self.folder / "archive/logs/00").mkdir()
        (self.folder / f"archive/logs/00/{'0' * 64}.metro.abc.part").write_text("metro")
        self.assertEqual(len(log_names(self.place)), 1)


class Building(ArchiveCase):
    def test_rows_are_those_of_the_runs(self) -> None:
        share(self.place, RUNS)
        self.assertEqual(build(self.place, ONE).logs, len(RUNS))
        self.assertEqual(build(self.place, ONE).logs, 0)
        rows = dict(
            query(self.place, "SELECT run, low FROM figures JOIN runs USING (log) WHERE name = 'hands-on'").rows
        )
        self.assertEqual(len(rows), len(RUNS))
        self.assertEqual(
            query(self.place, "SELECT count(*), sum(memory) FROM runs").rows, ((len(RUNS), len(RUNS) * (4 << 30)),)
        )
        self.assertEqual(
            query(
                self.place,
                "SELECT result FROM checks JOIN runs USING (log) WHERE run = 'larkmoor-8.0-heron-1' AND name = 'printer'",
            ).rows,
            (("fail",),),
        )

    def test_two_builders_at_once_double_nothing(self) -> None:
        names = share(self.place, RUNS)
        build(self.place, ONE)
        once = contents(self.place)
        make_part(self.place.url, names[:4])  # another builder, which saw fewer logs
        make_part(self.place.url, names[3:7])
        self.assertEqual(contents(self.place), once)
        self.assertEqual({found.damage for found in check(self.place, ONE).found}, {Damage.REPEATED})
        repair(self.place, ONE, patience=-1)
        self.assertEqual((contents(self.place), len(catalogue(self.place).parts)), (once, 1))
        self.assertEqual(check(self.place, ONE).found, ())

    def test_parts_that_have_some_logs_in_common_count_each_once(self) -> None:
        names = sorted(share(self.place, RUNS))
        make_part(self.place.url, names[:6])
        make_part(self.place.url, names[4:])
        self.assertEqual(query(self.place, "SELECT count(*) FROM runs").rows, ((len(RUNS),),))
        self.assertEqual(check(self.place, ONE).found, ())
        doubled = query(self.place, "SELECT log FROM figures GROUP BY log, name HAVING count(*) > 1").rows
        self.assertEqual(doubled, ())

    def test_a_builder_that_is_killed_leaves_nothing_that_another_program_takes_for_its_own(self) -> None:
        made = derive(self.place, sorted(share(self.place, RUNS[:3])))
        for table, data in made.data.items():  # all files of an older program, and its list not yet
            older = data[::-1] if table == "runs" else data
            self.place.add(f"tables/{table}/{name_of(older)}.parquet", older)
        build(self.place, ONE)
        self.assertEqual(query(self.place, "SELECT count(*) FROM runs").rows, ((3,),))
        self.assertEqual({each.damage for each in check(self.place, ONE).found}, {Damage.WITHOUT_LIST})
        self.assertEqual(len(repair(self.place, ONE).removed), 0)  # a writer may be at it
        self.assertEqual(len(repair(self.place, ONE, patience=-1).removed), 1)

    def test_what_another_program_derived_is_derived_anew_and_counts_once(self) -> None:
        names = share(self.place, RUNS)
        with another_program():
            build(self.place, ONE)
        self.assertEqual(query(self.place, "SELECT DISTINCT low FROM figures").rows, ((7,),))  # better than nothing
        self.assertEqual([each.damage for each in check(self.place, ONE).found], [Damage.OUTDATED])
        self.place.remove(log_path(names[0]))
        self.assertEqual(build(self.place, ONE).logs, len(RUNS) - 1)
        for act in (lambda: None, lambda: repair(self.place, ONE, patience=-1)):
            act()  # of the log that is gone, what the other program has derived
            old = query(self.place, "SELECT DISTINCT log FROM figures WHERE name = 'hands-on' AND low = 7").rows
            self.assertEqual(old, ((names[0],),))
            rows = query(self.place, "SELECT count(*), count(DISTINCT log) FROM runs").rows
            self.assertEqual(rows, ((len(RUNS), len(RUNS)),))

    def test_what_nobody_needs_any_longer_goes(self) -> None:
        share(self.place, RUNS)
        with another_program():
            build(self.place, ONE)
        repair(self.place, ONE, patience=-1)
        self.assertEqual(check(self.place, ONE).found, ())
        self.assertEqual(len(list((self.folder / "archive/parts").iterdir())), 1)
        self.assertEqual(len(list((self.folder / "archive/tables/figures").iterdir())), 1)

    def test_many_small_parts_become_one_whose_rows_are_the_same(self) -> None:
        share(self.place, RUNS)
        with mock.patch.object(building, "_MANY", 3), mock.patch.object(building, "LARGEST", 8):
            build(self.place, ONE, size=3)
            small = contents(self.place)
            self.assertEqual(sorted(part.logs for part in catalogue(self.place).parts.values()), [2, 8])
        build(self.place, ONE)
        self.assertEqual((contents(self.place), check(self.place, ONE, quick=True).parts), (small, 2))
        other = ArchivePlace(str(self.folder / "other"))
        share(other, RUNS)
        build(other, ONE)
        self.assertEqual(small, contents(other))

    def test_a_part_that_lies_about_those_beside_it_is_told(self) -> None:
        names = sorted(share(self.place, RUNS))
        make_part(self.place.url, names)
        (first,) = catalogue(self.place).parts
        make_part(self.place.url, names[:4], frozenset({first}))
        (liar,) = catalogue(self.place).parts.keys() - {first}
        found = {(each.file, each.damage) for each in check(self.place, ONE).found}
        self.assertIn((list_path(liar), Damage.FORGED), found)
        repair(self.place, ONE, patience=-1)
        self.assertEqual(query(self.place, "SELECT count(*) FROM runs").rows, ((len(RUNS),),))

    def test_many_small_parts_say_what_one_says(self) -> None:
        share(self.place, RUNS)
        script = "import sys\nfrom metrograph.archive.building import Workers, build\nfrom metrograph.archive.place import ArchivePlace\nif __name__ == '__main__':\n    print(build(ArchivePlace(sys.argv[1]), Workers(cores=2), size=2).logs)\n"
        (self.folder / "build.py").write_text(script)  # in a process of its own, which may have others
        done = subprocess.run(
            [sys.executable, str(self.folder / "build.py"), self.place.url], capture_output=True, text=True, check=True
        )
        self.assertEqual(done.stdout, f"{len(RUNS)}\n")
        small = contents(self.place)
        other = ArchivePlace(str(self.folder / "other"))
        share(other, RUNS)
        build(other, ONE)
        self.assertEqual(small, contents(other))

    def test_logs_that_cannot_be_read_are_listed_and_stop_nothing(self) -> None:
        share(self.place, RUNS[:1])
        bad, _ = put(self.place, b"\xff\x00 no log")
        long, _ = put(self.place, b"metrograph 1\n" + b"x" * (5 << 20))
        built = build(self.place, ONE)
        self.assertEqual((built.logs, set(built.bad)), (1, {bad, long}))
        self.assertEqual(build(self.place, ONE).logs, 0)

    def test_an_archive_of_older_tables_is_built_anew(self) -> None:
        shutil.copytree(OLD, self.folder / "archive")
        said: list[str] = []
        place = ArchivePlace(str(self.folder / "archive"), said.append)
        self.assertEqual(query(place, "SELECT count(*) FROM runs").rows, ((0,),))
        self.assertIn("1 are of another version of this program, and are left out", said[0])
        build(place, ONE)
        self.assertEqual(query(place, "SELECT count(*), count(processors) FROM runs").rows, ((2, 2),))
        repair(place, ONE, patience=-1)
        self.assertEqual(check(place, ONE).found, ())

    def test_tables_of_a_newer_program_stop_nothing_and_stay(self) -> None:
        share(self.place, RUNS[:1])
        build(self.place, ONE)
        self.place.add(list_path("9" * 64), b'{"schema": 99, "what": "nobody knows yet"}')
        self.place.add("tables/runs/later.parquet", b"of a kind that comes later")
        repair(self.place, ONE, patience=-1)
        self.assertTrue(self.place.has(list_path("9" * 64)) and self.place.has("tables/runs/later.parquet"))
        self.assertEqual(query(self.place, "SELECT count(*) FROM runs").rows, ((1,),))


class TakenBack(ArchiveCase):
    def test_every_reader_honours_it_and_repairing_forgets_the_rows(self) -> None:
        names = share(self.place, RUNS[:3])
        build(self.place, ONE, size=2)
        self.assertTrue(take_back(self.place, names[0], Tombstone("Wren Ashby", "The wrong image")))
        for act in (lambda: None, lambda: build(self.place, ONE), lambda: repair(self.place, ONE, patience=-1)):
            act()
            self.assertEqual(query(self.place, f"SELECT count(*) FROM runs WHERE log = '{names[0]}'").rows, ((0,),))
            self.assertEqual(query(self.place, "SELECT count(DISTINCT log) FROM figures").rows, ((2,),))
        self.assertNotIn(names[0].encode(), b"".join(path.read_bytes() for path in self.folder.rglob("*.parquet")))


class Checking(ArchiveCase):
    def setUp(self) -> None:
        super().setUp()
        self.names = share(self.place, RUNS[:3])
        build(self.place, ONE)
        self.root = self.folder / "archive"
        self.good = contents(self.place)

    def found(self) -> set[tuple[str, Damage]]:
        return {(each.file, each.damage) for each in check(self.place, ONE).found}

    def the_part(self) -> ArchivePart:
        (part,) = catalogue(self.place).parts.values()
        return part

    def test_each_kind_of_damage_is_named_and_mended_as_far_as_can_be(self) -> None:
        self.assertEqual(self.found(), set())
        flipped, gone, _ = (self.root / log_path(name) for name in self.names)
        whole = flipped.read_bytes()
        data = bytearray(whole)
        data[len(data) // 2] ^= 1
        flipped.write_bytes(data)
        gone.unlink()
        (runs,) = (self.root / "tables/runs").iterdir()
        runs.write_bytes(runs.read_bytes()[:-9])
        (checks,) = (self.root / "tables/checks").iterdir()
        checks.unlink()
        (self.root / "tables/runs" / ("f" * 64 + ".parquet")).write_bytes(b"no table")
        (self.root / "notes.txt").write_text("mine")
        (self.root / "logs/x.metro.0.part").write_text("half")
        (self.root / "parts/broken.json").write_text("{")
        (self.root / "parts/half.json.0.part").write_text("{")
        late = share(self.place, RUNS[5:6])[0]
        without_rows = {(log_path(name), Damage.WITHOUT_ROWS) for name in [*self.names, late] if name != self.names[1]}
        self.assertEqual(
            self.found(),
            {
                (log_path(self.names[0]), Damage.CHANGED), (f"tables/runs/{runs.name}", Damage.CHANGED),
                (f"tables/checks/{checks.name}", Damage.MISSING), ("notes.txt", Damage.FOREIGN),
                (f"tables/runs/{'f' * 64}.parquet", Damage.WITHOUT_LIST), ("parts/broken.json", Damage.UNREADABLE),
                ("logs/x.metro.0.part", Damage.HALF_WRITTEN), ("parts/half.json.0.part", Damage.HALF_WRITTEN),
                *without_rows,
            },
        )  # fmt: skip
        done = repair(self.place, ONE, patience=-1)
        self.assertEqual((done.aside, done.built.logs), ((log_path(self.names[0]),), 2))
        self.assertEqual((self.root / f"aside/{self.names[0]}.metro").read_bytes(), bytes(data))
        self.assertEqual(self.found(), {("notes.txt", Damage.FOREIGN)})
        put(self.place, whole)  # whoever has it shares it again
        build(self.place, ONE)
        self.assertEqual(query(self.place, "SELECT count(*) FROM runs").rows, ((3,),))

    def test_a_log_that_is_gone_while_its_rows_are_there(self) -> None:
        self.place.remove(log_path(self.names[1]))
        self.assertEqual(self.found(), {(log_path(self.names[1]), Damage.MISSING)})

    def test_rows_that_no_log_says_are_told_and_derived_anew(self) -> None:
        made = derive(self.place, self.names)
        with another_program():
            forged = derive(self.place, self.names)
        empty = derive(self.place, [])
        forgeries = {
            "other figures": (made.files | {"figures": forged.files["figures"]}, made.data | {"figures": forged.data["figures"]}),
            "none at all": (empty.files | {"runs": made.files["runs"]}, empty.data | {"runs": made.data["runs"]}),
        }  # fmt: skip
        for words, (files, data) in forgeries.items():
            with self.subTest(words):
                genuine, part = catalogue(self.place).parts, self.the_part()
                name = put_part(self.place, msgspec.structs.replace(part, files=files), data)
                self.place.remove(list_path(*genuine))
                self.assertEqual(self.found() & {(list_path(name), Damage.FORGED)}, {(list_path(name), Damage.FORGED)})
                repair(self.place, ONE, patience=-1)
                self.assertEqual((contents(self.place), self.found()), (self.good, set()))

    def test_a_list_that_is_not_what_it_says_is_no_list(self) -> None:
        part = self.the_part()
        lists = [
            msgspec.structs.replace(part, files=part.files | {"runs": TableFile("../../etc/passwd", 3)}),
            msgspec.structs.replace(part, files={}),
            msgspec.structs.replace(part, files=part.files | {"runs": TableFile(part.files["runs"].sha256, 0)}),
            msgspec.structs.replace(part, first="", last=""),
        ]
        for each in lists:
            data = msgspec.json.encode(each)
            self.place.add(list_path(name_of(data)), data)
            self.assertIn((list_path(name_of(data)), Damage.UNREADABLE), self.found())
        self.place.add(list_path("0" * 64), msgspec.json.encode(part))  # the right list by another name
        self.assertIn((list_path("0" * 64), Damage.UNREADABLE), self.found())
        self.assertEqual(contents(self.place), self.good)

    def test_a_list_that_says_less_than_its_rows_is_told(self) -> None:
        narrow = msgspec.structs.replace(self.the_part(), last=self.the_part().first)
        name = put_part(self.place, narrow, derive(self.place, sorted(self.names)).data)
        self.place.remove(list_path(*(catalogue(self.place).parts.keys() - {name})))
        self.assertIn((list_path(name), Damage.FORGED), self.found())

    def test_only_ordinary_files_are_looked_at_and_no_link_is_followed(self) -> None:
        os.mkfifo(self.root / "parts" / ("1" * 64 + ".json"))
        os.mkfifo(self.root / "logs/00.metro")
        (self.root / "tombstones").symlink_to("/dev")
        (self.root / "parts/2.json").symlink_to("/dev/zero")
        with self.assertRaisesRegex(MetrographError, "tombstones cannot be listed"):
            query(self.place, "SELECT 1")
        (self.root / "tombstones").unlink()
        self.assertEqual(contents(self.place), self.good)
        outside = self.folder / "outside"
        outside.mkdir()
        shutil.rmtree(self.root / "logs")
        (self.root / "logs").symlink_to(outside)
        with self.assertRaisesRegex(NotWritableError, "cannot be written"):
            share(self.place, RUNS[:1])
        self.assertEqual(list(outside.iterdir()), [])

    def test_a_table_that_is_no_ordinary_file_is_left_out(self) -> None:
        (runs,) = (self.root / "tables/runs").iterdir()
        runs.unlink()
        os.mkfifo(runs)
        said: list[str] = []
        place = ArchivePlace(self.place.url, said.append)
        self.assertEqual(query(place, "SELECT count(*) FROM runs").rows, ((0,),))
        self.assertIn("1 parts lack files", said[0])


class Asking(ArchiveCase):
    def setUp(self) -> None:
        super().setUp()
        share(self.place, RUNS)
        build(self.place, ONE)

    def test_nothing_is_written_read_elsewhere_or_reached(self) -> None:
        before = sorted(path.read_bytes() for path in self.folder.rglob("*") if path.is_file())
        for sql in (
            f"COPY runs TO '{self.folder}/x.csv'", f"COPY (SELECT 1) TO '{self.folder}/archive/tables/x.parquet'",
            "SELECT * FROM read_text('/etc/passwd')", "SELECT * FROM '/etc/passwd'", "SELECT * FROM glob('/etc/*')",
            "SELECT * FROM read_csv('https://example.org/x')", "ATTACH 'x.db'", "INSTALL httpfs", "LOAD httpfs",
            "SET memory_limit = '99GB'", "CREATE TABLE x AS SELECT 1", "DROP VIEW runs", "SELECT 1; SELECT 2",
            "SELECT getenv('HOME')", "", "SELECT * FROM nothing", "SELECT * FROM contents", "PRAGMA database_list",
            f"SELECT * FROM read_text('{self.folder}/archive/logs/*/*')",
        ):  # fmt: skip
            with self.assertRaises(MetrographError, msg=sql):
                query(self.place, sql)
        self.assertEqual(before, sorted(path.read_bytes() for path in self.folder.rglob("*") if path.is_file()))

    def test_a_figure_among_those_of_others_on_rigs_that_are_alike(self) -> None:
        like = Like("virtual", 4 << 30)
        with opened(self.place, "Somebody else") as connection:
            found = standing(connection, "installed", Range(1065, 1065), like)
            self.assertEqual((found.runs, found.reviewers), (10, 1))
            moments = [
                (low, high)
                for low, high in connection.execute("SELECT low, high FROM figures WHERE name = 'installed'").fetchall()
            ]
            self.assertEqual(found.more, sum(high is not None and high < 1065 for _, high in moments))
            self.assertEqual(found.less, sum(low > 1065 for low, _ in moments))
            for other in (Like("physical"), Like("virtual", 8 << 30)):
                self.assertEqual(standing(connection, "installed", Range(1065, 1065), other).runs, 0)
            self.assertEqual(met(connection, "printer-silent").runs, 5)
        with opened(self.place, "Wren Ashby") as connection:
            self.assertEqual(standing(connection, "installed", Range(1065, 1065), like).runs, 0)

    def test_nobody_outweighs_the_others(self) -> None:
        # One reviewer with ten runs, and one with a single run that takes an hour: the median of two medians lies half-way.
        slow = shared("larkmoor-7.0-heron-1", "Slow One").replace(b"15:2", b"59:5")
        put(self.place, slow)
        build(self.place, ONE)
        with opened(self.place) as connection:
            found = standing(connection, "on-clock", Range(60, 60), Like("virtual", 4 << 30))
            medians = connection.execute(
                "SELECT reviewer, median((f.low + coalesce(f.high, f.low)) / 2) FROM figures f JOIN runs USING (log)"
                " WHERE name = 'on-clock' GROUP BY 1"
            ).fetchall()
        self.assertEqual((found.runs, found.reviewers), (11, 2))
        self.assertAlmostEqual(found.middle or 0, sum(middle for _, middle in medians) / 2, places=3)


class Near(ArchiveCase):
    def test_the_nearest_is_what_kinship_says_and_never_the_release_itself(self) -> None:
        share(self.place, RUNS)
        build(self.place, ONE)
        with opened(self.place) as connection:
            flows = flows_of(connection)
        self.assertEqual(len(flows), len({run.rpartition("-")[0] for run in RUNS}))
        (near,) = nearest_in(self.place, {"larkmoor-8.0-heron": flows["larkmoor-8.0-heron"]}, "")
        names = [name for name in flows if name != "larkmoor-8.0-heron"]
        exact = dict(zip(names, kin_to(flows["larkmoor-8.0-heron"], [flows[name] for name in names]), strict=True))
        self.assertEqual(
            {each.release: each.kinship for each in near.near},
            {name: round(float(kin), 4) for name, kin in exact.items()},
        )
        self.assertEqual((near.near[0].release, near.among), ("larkmoor-8.0-wren", 4))
        self.assertEqual(nearest_in(self.place, flows, "Wren Ashby")[0].near, ())

    def test_a_figure_of_a_release_is_the_median_of_what_reviewers_have(self) -> None:
        share(self.place, ["larkmoor-7.0-heron-1", "larkmoor-7.0-heron-2"], "One")
        share(self.place, ["larkmoor-7.0-heron-1"], "Two")
        build(self.place, ONE)
        with opened(self.place) as connection:
            lows = dict(
                connection.execute(
                    "SELECT run, low FROM figures JOIN runs USING (log) WHERE name = 'installed'"
                ).fetchall()
            )
        one, two = lows["larkmoor-7.0-heron-1"], lows["larkmoor-7.0-heron-2"]
        (found,) = followed_in(self.place, "installed", ["larkmoor-7.0-heron"], "")
        self.assertEqual((found.runs, found.reviewers), (3, 2))
        self.assertAlmostEqual(found.middle, ((one + two) / 2 + one) / 2)


class Hostile(ArchiveCase):
    def test_a_log_of_somebody_else_is_only_read(self) -> None:
        text = (
            shared(RUNS[0])
            .decode()
            .replace("rig-kind: virtual", "rig-kind: \x1b[31mevil")
            .replace("rig-memory: ", "rig-memory: 9x")
        )
        name, _ = put(self.place, (text + "30:00 note \x1b]0;title\x07 $(reboot) <script>\n").encode())
        build(self.place, ONE)
        self.assertEqual(
            query(self.place, f"SELECT rig_kind, memory FROM runs WHERE log = '{name}'").rows, ((None, None),)
        )

    def test_what_was_not_masked_is_masked_in_the_tables(self) -> None:
        text = shared(RUNS[0]).decode() + (
            "30:00 enter host name = mended-seven\n30:01 issue a-b: x on mended-seven\n30:02 fix a-b: ask wren@moor.example\n"
        )
        put(self.place, text.encode())
        build(self.place, ONE)
        self.assertEqual(
            query(self.place, "SELECT value FROM choices WHERE key = 'host name'").rows[-1:], (("[host name]",),)
        )
        self.assertEqual(
            query(self.place, "SELECT summary, fix FROM issues WHERE name = 'a-b'").rows,
            (("x on [host name]", "ask [mail address]"),),
        )

    def test_a_log_that_says_another_name_than_its_bytes_is_refused(self) -> None:
        data = shared(RUNS[0])
        name = name_of(b"other")
        self.place.add(f"logs/{name[:2]}/{name}.metro", data)
        with self.assertRaisesRegex(MetrographError, "not those that it was named by"):
            read_log(self.place, name)
        self.assertEqual(set(build(self.place, ONE).bad), {name})

    def test_what_is_too_large_is_not_read(self) -> None:
        name = name_of(b"x" * (5 << 20))
        self.place.add(f"logs/{name[:2]}/{name}.metro", b"x" * (5 << 20))
        with self.assertRaisesRegex(MetrographError, "larger than"), contextlib.suppress(OSError):
            read_log(self.place, name)


if __name__ == "__main__":
    unittest.main()
