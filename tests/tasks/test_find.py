"""What a search of a large set keeps: it answers as if everything was read anew, whatever changed, and believes no
file that was not written here."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from oddpeg.store.cache import cache_file
from support.project import CONFIG, RING, SQUARE, ProjectFolder

KEPT = cache_file()
TITLED = SQUARE.replace("<path", "<title>{}</title><path")


def found(project: ProjectFolder, *words: str) -> list[tuple[str, str, str]]:
    result = project.run("find", *words, "--json")
    return [(icon["name"], icon["hex"], icon["title"]) for icon in json.loads(result.stdout)["icons"]]


@pytest.fixture(scope="module")
def large(tmp_path_factory: pytest.TempPathFactory) -> ProjectFolder:
    project = ProjectFolder(tmp_path_factory.mktemp("large")).config()
    for number in range(520):
        project.icon(f"berth-{number:03}", RING if number % 2 else SQUARE)
    project.icon("winch", TITLED.format("Lifting gear")).deliver()
    return project


def test_a_large_set_is_answered_from_what_was_kept(large: ProjectFolder) -> None:
    first = found(large, "berth", "007")
    kept = large.bytes(KEPT)
    assert first == found(large, "berth", "007") == found(large, f"U+{first[0][1].upper()}") and len(first) == 1
    assert large.bytes(KEPT) == kept and found(large, "lifitng")[0][0] == "winch", "a slip is found in it, too"


def rename(project: ProjectFolder) -> None:
    project.run("pegs", "rename", "winch", "capstan")


def retitle(project: ProjectFolder) -> None:
    project.icon("winch", TITLED.format("Capstan"))


def tag(project: ProjectFolder) -> None:
    project.write("icons/icons.csv", "icon,tags\nwinch,capstan\n")


def synonym(project: ProjectFolder) -> None:
    project.config(CONFIG + '\n[synonyms]\ncapstan = ["winch"]\n')


def withdraw(project: ProjectFolder) -> None:
    project.run("pegs", "retire", "berth-007")


@pytest.mark.parametrize("change", [rename, retitle, tag, synonym, withdraw])
def test_whatever_changes_is_seen(large: ProjectFolder, change: object, tmp_path: Path) -> None:
    import shutil

    shutil.copytree(large.root, tmp_path / "copy")
    project = ProjectFolder(tmp_path / "copy")
    questions = (["capstan"], ["berth", "007"])
    before = [found(project, *words) for words in questions]
    assert callable(change)
    change(project)
    after = [found(project, *words) for words in questions]
    (project.root / KEPT).unlink()
    assert after == [found(project, *words) for words in questions] != before
