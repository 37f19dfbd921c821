"""The cache by itself: several processes, bounds, files that are damaged or of somebody else."""

from __future__ import annotations

import multiprocessing
import sqlite3
from pathlib import Path

import pytest

from oddpeg.store.cache import Cache, cache_file
from support.project import ProjectFolder, oddpeg


@pytest.fixture
def cache(tmp_path: Path) -> Cache:
    (tmp_path / ".oddpeg").mkdir()
    return Cache(tmp_path)


def fill(root: Path, number: int) -> None:
    cache = Cache(root)
    for i in range(50):
        cache.put("tide", {cache.key("tide", number, i): b"%d" % i})


def test_values_come_back_under_their_namespace_and_key(cache: Cache) -> None:
    keys = cache.keys("tide", ("low",), [b"a", b"b"])
    cache.put("tide", {keys[0]: b"1", keys[1]: b""})
    assert cache.get("tide", [*keys, b"none"]) == {keys[0]: b"1", keys[1]: b""} and cache.get("ebb", keys) == {}
    assert keys != cache.keys("ebb", ("low",), [b"a", b"b"]) and keys != cache.keys("tide", ("high",), [b"a", b"b"])


def test_nothing_is_created_where_there_is_no_project(tmp_path: Path) -> None:
    Cache(tmp_path).put("tide", {b"key": b"value"})
    assert not list(tmp_path.iterdir())


def test_processes_share_it(cache: Cache, tmp_path: Path) -> None:
    forks = "fork" in multiprocessing.get_all_start_methods()
    context = multiprocessing.get_context("fork") if forks else multiprocessing.get_context("spawn")
    workers = [context.Process(target=fill, args=(tmp_path, n)) for n in range(3)]
    for worker in workers:
        worker.start()
    for worker in workers:
        worker.join()
    keys = [cache.key("tide", n, i) for n in range(3) for i in range(50)]
    assert len(cache.get("tide", keys)) == 150


def test_unused_values_go_when_there_are_many(cache: Cache) -> None:
    for turn in range(10):
        cache.put("tide", {bytes([turn, i]): b"x" for i in range(10)}, spare=20)
    assert len(cache.get("tide", [bytes([t, i]) for t in range(10) for i in range(10)])) <= 30
    assert len(cache.get("tide", [bytes([9, i]) for i in range(10)])) == 10, "what is in use stays"


def test_a_changed_value_and_another_form_count_as_missing(cache: Cache, tmp_path: Path) -> None:
    cache.put("tide", {b"key": b"value"})
    with sqlite3.connect(tmp_path / cache_file()) as database:
        database.execute("UPDATE kept SET value = value || 'x'")
    assert cache.get("tide", [b"key"]) == {}
    with sqlite3.connect(tmp_path / cache_file()) as database:
        database.execute("CREATE TRIGGER t AFTER INSERT ON kept BEGIN DELETE FROM kept; END")
    assert cache.get("tide", [b"key"]) == {} and not (tmp_path / cache_file()).exists()
    cache.put("tide", {b"key": b"value"})
    assert cache.get("tide", [b"key"]) == {b"key": b"value"}


def test_another_users_cache_never_matches(project: ProjectFolder, tmp_path: Path) -> None:
    home = {"XDG_STATE_HOME": str(tmp_path / "state"), "HOME": str(tmp_path)}
    oddpeg("build", cwd=project.root, **home)
    theirs = {path.name: path.read_bytes() for path in (project.root / ".oddpeg/cache").glob("*.sqlite")}
    assert len(theirs) == 1 and cache_file().rpartition("/")[2] not in theirs
    assert '"reused": 0' in project.build("--json").stdout
    assert all((project.root / f".oddpeg/cache/{name}").read_bytes() == data for name, data in theirs.items())
