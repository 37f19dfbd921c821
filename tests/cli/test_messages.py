"""What users do wrong: each is told what, where and the cure, by the right exit code, and changes nothing."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from support.data import table
from support.project import CONFIG, RING, SQUARE, ProjectFolder

CASES: list[dict[str, Any]] = table("messages")["case"]
SETS = {"plain": CONFIG, **{name: table(name)["config"] for name in ("faces", "axis", "colour")}}
DRAWN = {"@square": SQUARE, "@ring": RING, "@cleat": SQUARE.replace("M4 4", "M5 5")}
ICONS = {
    "plain": {"anchor": SQUARE, "buoy": RING},
    "faces": {"line/gate": RING, "solid/gate": SQUARE},
    "axis": {"gate": RING},
    "colour": {"line": RING},
}


def written(project: ProjectFolder, files: dict[str, str], encoding: str = "utf-8") -> None:
    for path, text in files.items():
        (project.root / path).parent.mkdir(parents=True, exist_ok=True)
        (project.root / path).write_bytes(DRAWN.get(text, text).encode(encoding))


def contents(root: Path) -> dict[str, bytes]:
    """Return all files but those that Odd Peg keeps for itself."""
    files = (path for path in root.rglob("*") if path.is_file() and ".oddpeg" not in path.parts)
    return {str(path.relative_to(root)): path.read_bytes() for path in files}


@pytest.mark.parametrize("case", CASES, ids=[case["name"] for case in CASES])
def test_a_mistake_is_named_with_its_cure(tmp_path: Path, case: dict[str, Any]) -> None:
    project, kind = ProjectFolder(tmp_path / "harbour"), case.get("set", "plain")
    text = SETS[kind]
    for old, new in case.get("config", []):
        assert old in text, "the case changes nothing"
        text = text.replace(old, new)
    if case.get("config_file", True):
        project.config(text + "\n" + case.get("append", ""))
    for name, svg in case.get("icons", ICONS[kind]).items():
        project.icon(name, DRAWN.get(svg, svg))
    written(project, case.get("files", {}))
    written(project, case.get("latin", {}), "latin-1")
    for command in case.get("before", []):
        assert project.run(command).returncode == 0
    written(project, case.get("after", {}))
    before, around = contents(project.root), {path.name for path in tmp_path.iterdir()}
    result = project.run(*case.get("run", ["build"]), **case.get("env", {}))
    codes = case.get("code", 1)
    assert result.returncode in (codes if isinstance(codes, list) else [codes]), result.stdout + result.stderr
    for part in case["told"]:
        assert part in result.stdout + result.stderr, part
    assert case.get("writes") or contents(project.root) == before
    assert {path.name for path in tmp_path.iterdir()} == around
