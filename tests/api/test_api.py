"""The public API: every example of its page runs, and its names are what they are said to be."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
from pathlib import Path
from typing import assert_type

import pytest

import oddpeg
from support.project import REPOSITORY, RING, SQUARE, ProjectFolder, codepoints

PAGE = REPOSITORY / "docs/api.md"


@pytest.fixture
def signs(demo: ProjectFolder, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    """A copy of the sample project, and the current folder."""
    folder = tmp_path / "signs"
    shutil.copytree(demo.root, folder)
    monkeypatch.chdir(folder)
    return folder


def test_every_example_runs(signs: Path) -> None:
    examples = re.findall(r"(?ms)^```python\n(.*?)^```", PAGE.read_text(encoding="utf-8"))
    assert len(examples) >= 7
    names: dict[str, object] = {}
    for example in examples:
        exec(compile(example, str(PAGE), "exec"), names)


def test_the_names_are_those_of_the_page() -> None:
    assert set(oddpeg.__all__) == set(oddpeg._HOMES) and set(oddpeg.__all__) <= set(dir(oddpeg))
    text = PAGE.read_text(encoding="utf-8")
    for name in oddpeg.__all__:
        assert getattr(oddpeg, name).__doc__ and re.search(rf"\b{name}\b", text), name
    with pytest.raises(AttributeError, match="no attribute 'brew'"):
        _ = oddpeg.brew


def test_importing_it_loads_nothing_heavy() -> None:
    script = (
        "import sys, oddpeg; print(sorted(m for m in sys.modules if m.split('.')[0] in ('numpy', 'lxml', 'pydantic')))"
    )
    done = subprocess.run([sys.executable, "-c", script], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"


def test_types_are_those_of_the_page(signs: Path) -> None:
    """What is wrong here is found by the type checker."""
    report: oddpeg.BuildReport = oddpeg.build(oddpeg.open_project(signs))
    names: list[str] = [hit.icon.name for hit in oddpeg.find(oddpeg.open_project(), "boat")]
    assert names and not [assert_type(fault.line, int | None) for fault in report.faults]


def test_an_unknown_name_is_answered_with_near_ones(project: ProjectFolder) -> None:
    icons = oddpeg.icon_set(oddpeg.open_project(project.deliver().root))
    with pytest.raises(KeyError, match="no icon 'ancor'; did you mean anchor"):
        icons.named("ancor")
    assert icons.named("anchor").advance is None, "nothing was outlined"


def test_each_call_sees_what_is_on_disk(project: ProjectFolder) -> None:
    opened = oddpeg.open_project(project.root)
    assert oddpeg.build(opened).icons == 2 == len(oddpeg.icon_set(opened).icons)
    project.icon("anchor", RING)
    assert oddpeg.build(opened).delivered.changes(), "a drawing that changed is built"
    project.icon("cleat", SQUARE.replace("M4 4", "M5 5"))
    report = oddpeg.build(opened)
    assert report.icons == 3 and report.delivered.changes() and not report.faults
    assert codepoints(project)["cleat"] == 0xE002 and oddpeg.find(opened, "cleat")
    assert not oddpeg.build(opened).delivered.changes()


def test_a_path_in_place_of_a_project_is_named(project: ProjectFolder) -> None:
    with pytest.raises(TypeError, match=r"a project is needed, not str 'signs': open it with oddpeg.open_project"):
        oddpeg.build("signs")  # type: ignore[arg-type]


def test_a_config_with_faults_raises_all_of_them(project: ProjectFolder) -> None:
    icons = '[icons]\nfrom = ["icons/*.svg"]\ntranslucent = "soli"\n'
    project.config(f'[font]\nfamily = 3\n{icons}[bundle.web]\ninto = "dist"\n')
    with pytest.raises(oddpeg.UsageError) as raised:
        oddpeg.open_project(project.root)
    found = {d.code: d for d in raised.value.diagnostics}
    assert set(found) == {"config-type", "config-choice"} and raised.value.exit_code == 2
    assert found["config-choice"].line == 5 and "did you mean solid?" in found["config-choice"].cure
