"""What docs/outputs.md says of each kind of output, written from the kinds themselves and from what they make of the
demo. What stands outside of the marks is written by hand."""

from __future__ import annotations

import re
import tempfile
from pathlib import Path

from oddpeg import Project, build
from oddpeg.demo.sample import sample_files
from oddpeg.lookup.use import Use, uses
from oddpeg.outputs.kind import Option, OutputKind
from oddpeg.outputs.registry import KINDS
from oddpeg.project.icon_sets import known_icons
from oddpeg.project.snapshot import Snapshot

PAGE = Path(__file__).parent.parent / "docs/outputs.md"
ICON = "anchor"
_HEAD, _ROWS, _WIDTH = 9, 3, 118  # lines at the beginning, lines that name icons, characters to the line
_ICONS = ("ahead", ICON, "arrivals")
_BINARY = frozenset(("specimen", "specimen-sheet", "base64", "archive"))
_LANGUAGES = {"mjs": "js", "c-header": "c", "h": "c", "kt": "kotlin", "cs": "csharp", "py": "python", "md": "markdown"}
_TEMPLATE = "{% for icon in icons %}\n{{ icon.name }} = {{ icon.hex }}\n{% endfor %}\n"
_APART = ("android-xml", "compose")  # fonts beside them have other names
_BUNDLES = """
[bundle.all]
into = "all"
fonts = ["woff2", "ttf"]
outputs = [{}]

[bundle.apart]
into = "apart"
fonts = ["ttf"]
outputs = [{}]
"""


def write_sample(folder: Path) -> None:
    """Write the sample project into a folder."""
    for file in sample_files():
        (folder / file.name).parent.mkdir(parents=True, exist_ok=True)
        (folder / file.name).write_bytes(file.data)


def make_project(folder: Path) -> Project:
    """Return the demo, built in a folder, with a bundle of every kind."""
    write_sample(folder)
    (folder / "list.jinja").write_text(_TEMPLATE)
    config = folder / "oddpeg.toml"
    outputs = [f'"{name}"' for name in KINDS if name not in ("template", *_APART)]
    outputs.append('{ kind = "template", template = "list.jinja", to = "list.txt" }')
    kept = config.read_text().partition("[bundle.")[0]
    config.write_text(kept + _BUNDLES.format(", ".join(outputs), ", ".join(f'"{name}"' for name in _APART)))
    project = Project.open(config)
    build(project)
    return project


def blocks(project: Project) -> dict[str, str]:
    """Return what the page says of every kind, by name."""
    snapshot = Snapshot(project)
    icons = known_icons(snapshot)
    lines = uses(snapshot, icons, icons.named(ICON))
    found = {}
    for bundle in project.config.bundle.values():
        for output in bundle.outputs:
            kind, path = KINDS[output.kind], project.output_path(bundle, output)
            own = [line for line in lines if line.file == project.relative(path)]
            found[kind.name] = _block(kind, path, own, kind.file_name(project.naming))
    return found


def _block(kind: OutputKind, path: Path, own: list[Use], file: str) -> str:
    parts = [f"{kind.summary[0].upper()}{kind.summary[1:]}. File: `{file}`; {kind.place}."]
    if kind.options:
        rows = [f"| `{key}` | {_default(option)} | {option.summary} |" for key, option in kind.options.items()]
        parts.append("\n".join(["| key | default | meaning |", "|---|---|---|", *rows]))
    for once, head in ((True, "Once"), (False, "To use one")):
        texts = [use.text for use in own if use.once == once]
        if short := [text for text in texts if "\n" not in text]:
            parts.append(f"{head}: {'; '.join(f'`{text}`' for text in short)}.")
        parts += [f"{head}:\n\n```yaml\n{text}\n```" for text in texts if "\n" in text]
    if kind.name not in _BINARY and path.is_file():
        ending = path.name.rpartition(".")[2]
        excerpt = f"```{_LANGUAGES.get(ending, ending)}\n{_excerpt(path.read_text(encoding='utf-8'))}\n```"
        parts.append(f'<details markdown="1"><summary>{path.name}</summary>\n\n{excerpt}\n\n</details>')
    return "\n\n".join(parts)


def _default(option: Option) -> str:
    if option.default is None:
        return "as it suits"
    return (
        f"`{str(option.default).lower() if option.is_switch else option.default}`" if option.default != "" else "none"
    )


def _excerpt(text: str) -> str:
    """Return the beginning of a file, and the lines of three icons."""
    lines = text.splitlines()
    named = re.compile(rf"(?i)^(?!\s*(?:\||/\*)).*\b({'|'.join(_ICONS)})\b")  # neither members of a union nor comments
    rows = [i for i, line in enumerate(lines) if i >= _HEAD and named.match(line)]
    shown = [*lines[:_HEAD], "…"]
    if rows:
        shown += [*(lines[i] for i in rows[:_ROWS]), "…"]
    return "\n".join(line if len(line) <= _WIDTH else line[: _WIDTH - 2] + " …" for line in shown).rstrip()


def filled(page: str) -> str:
    """Return the page with what it says of every kind as the kinds have it now."""
    with tempfile.TemporaryDirectory() as folder:
        found = blocks(make_project(Path(folder).resolve()))
    for name, block in found.items():
        begin, end = f"<!-- {name} -->\n\n", f"\n\n<!-- end of {name} -->"
        if page.count(begin) != 1 or page.count(end) != 1:
            raise ValueError(f"{PAGE.name} does not have the marks of {name!r} once")
        page = page[: page.index(begin) + len(begin)] + block + page[page.index(end) :]
    return page


if __name__ == "__main__":
    PAGE.write_text(filled(PAGE.read_text(encoding="utf-8")), encoding="utf-8")
