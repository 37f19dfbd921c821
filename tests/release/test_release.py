"""A release as users get it: wheel and source archive in an empty environment, the job and the hooks of the guide."""

from __future__ import annotations

import re
import subprocess
import sys
import tarfile
import zipfile
from pathlib import Path

import pytest

from oddpeg import __version__
from support.clients import Client, run
from support.project import REPOSITORY


@pytest.fixture(scope="session")
def released(client: Client, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder with the wheel and the source archive of what git tracks."""
    folder = tmp_path_factory.mktemp("release")
    names = run(client("git"), "ls-files", "src", "pyproject.toml", "README.md", "LICENSE", cwd=REPOSITORY).split("\n")
    for name in filter(None, names):
        (folder / "tree" / name).parent.mkdir(parents=True, exist_ok=True)
        (folder / "tree" / name).write_bytes((REPOSITORY / name).read_bytes())
    run(sys.executable, "-m", "pip", "install", "--quiet", "build", cwd=folder)
    run(sys.executable, "-m", "build", "--outdir", folder / "out", folder / "tree", cwd=folder)
    return folder / "out"


@pytest.fixture(scope="session")
def environment(released: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The programs of an environment that holds nothing but the wheel and its dependencies."""
    folder = tmp_path_factory.mktemp("environment")
    run(sys.executable, "-m", "venv", folder, cwd=folder)
    run(folder / "bin/python", "-m", "pip", "install", "--quiet", next(released.glob("*.whl")), cwd=folder)
    return folder / "bin"


def test_wheel_and_source_archive_hold_the_same_package(released: Path) -> None:
    with zipfile.ZipFile(next(released.glob("*.whl"))) as wheel:
        ours = {name for name in wheel.namelist() if name.startswith("oddpeg/")}
    with tarfile.open(next(released.glob("*.tar.gz"))) as archive:
        names = {name.partition("/src/")[2] for name in archive.getnames() if "/src/oddpeg/" in name}
    assert ours <= names and {"oddpeg/py.typed", "oddpeg/config/oddpeg.schema.json"} <= ours
    assert any(name.endswith(".jinja") for name in ours) and any(name.endswith("anchor.svg") for name in ours)


def test_the_job_of_the_guide_passes_in_an_empty_environment(environment: Path, tmp_path: Path) -> None:
    assert run(environment / "oddpeg", "--version", cwd=tmp_path) == f"oddpeg {__version__}\n"
    run(environment / "oddpeg", "demo", "harbour", cwd=tmp_path)
    guide = (REPOSITORY / "docs/ci.md").read_text(encoding="utf-8")
    steps = re.findall(r"- run: oddpeg ([^\n]*)", guide)
    assert len(steps) == 4
    for step in steps[1:]:  # the first is strict, and the demo has warnings
        run(environment / "oddpeg", *step.split(), cwd=tmp_path / "harbour")


def test_the_hooks_run_from_a_checkout(client: Client, environment: Path, tmp_path: Path) -> None:
    git, folder = client("git"), tmp_path / "harbour"
    run(environment / "oddpeg", "demo", folder, cwd=tmp_path)
    hooks = REPOSITORY / ".pre-commit-hooks.yaml"
    entries = re.findall(r"entry: oddpeg ([^\n]*)", hooks.read_text(encoding="utf-8"))
    assert len(entries) == 3
    run(git, "init", "-q", cwd=folder)
    config = [f"  - {{id: hook-{n}, name: n, entry: {environment}/oddpeg {e}, language: system, pass_filenames: false}}"
              for n, e in enumerate(entries)]  # fmt: skip
    text = "repos:\n- repo: local\n  hooks:\n" + "\n".join(config) + "\n"
    (folder / ".pre-commit-config.yaml").write_text(text, encoding="utf-8")
    run(git, "add", ".", cwd=folder)
    command = [sys.executable, "-m", "pre_commit", "run", "--all-files"]
    assert subprocess.run(command, cwd=folder, check=False).returncode == 0
    (folder / "icons/harbour/anchor.svg").write_bytes((folder / "icons/harbour/cleat.svg").read_bytes())
    assert subprocess.run(command, cwd=folder, check=False).returncode != 0, "the font is out of date"


def test_the_hook_metadata_is_what_the_framework_reads() -> None:
    from pre_commit.clientlib import load_manifest

    hooks = load_manifest(str(REPOSITORY / ".pre-commit-hooks.yaml"))
    assert [hook["id"] for hook in hooks] == ["oddpeg-frozen", "oddpeg-frozen-pegs", "oddpeg-check"]
