"""Help and completion: every command is there, in the order of work, with an example that runs."""

from __future__ import annotations

import shlex
import sys

import pytest

from oddpeg.cli.commands import GROUPS
from support.commands import commands
from support.data import table
from support.launcher import ODDPEG
from support.project import ProjectFolder, oddpeg_fresh

DATA = table("help")

LEAVES = [path for path, command in commands() if not hasattr(command, "commands")]


def test_every_command_is_in_one_group_of_the_help() -> None:
    grouped = [name for names in GROUPS.values() for name in names]
    assert sorted(grouped) == sorted({path[0] for path, _ in commands()}) and len(grouped) == 15


def test_help_lists_commands_in_the_order_of_work(project: ProjectFolder) -> None:
    text = project.run("--help").stdout
    places = [text.index(f"\n  {name} ") for names in GROUPS.values() for name in names]
    assert places == sorted(places)
    assert [title for title in GROUPS if f"{title}:" in text] == list(GROUPS)


@pytest.mark.parametrize("path", LEAVES, ids=" ".join)
def test_every_command_explains_itself_and_gives_an_example(demo: ProjectFolder, path: tuple[str, ...]) -> None:
    text = " ".join(demo.run(*path, "--help").stdout.split())
    example = text.split("Example: ")[1]
    words = shlex.split(example[example.rindex("oddpeg ") :])
    assert words[1 : 1 + len(path)] == list(path), "the example is one of this command"
    options = [word for word in words if word.startswith("-")]
    assert all(option in text.split("Example: ")[0] for option in options), "it uses options that exist"


def test_arguments_that_repeat_are_shown_so(project: ProjectFolder) -> None:
    for path in (("build",), ("find",), ("proof",), ("pegs", "retire")):
        usage = project.run(*path, "--help").stdout.split("\n\n")[0]
        assert "..." in usage or "…" in usage, usage


@pytest.mark.parametrize(("line", "expected"), DATA["the_shell_completes_names_of_the_project"])
def test_the_shell_completes_names_of_the_project(demo: ProjectFolder, line: str, expected: list[str]) -> None:
    words = {"_ODDPEG_COMPLETE": "complete_bash", "COMP_WORDS": line, "COMP_CWORD": str(line.count(" "))}
    completed = oddpeg_fresh(cwd=demo.root, **words)
    assert completed.stdout.split() == expected, completed.stderr


def test_completion_outside_any_project_says_nothing(project: ProjectFolder) -> None:
    (project.root / "oddpeg.toml").write_text("not = [valid")
    words = {"_ODDPEG_COMPLETE": "complete_bash", "COMP_WORDS": "oddpeg build w", "COMP_CWORD": "2"}
    completed = oddpeg_fresh(cwd=project.root, **words)
    assert (completed.stdout.strip(), completed.stderr) == ("", "") and ODDPEG.parent.samefile(sys.prefix + "/bin")
