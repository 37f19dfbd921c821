"""`oddpeg init`, `demo`, `config` and `outputs`: what one needs before building."""

from __future__ import annotations

import json as json_module
import os
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from oddpeg.cli.options import ConfigAt, Force, Json, Quiet
from oddpeg.cli.printing import document, say
from oddpeg.cli.projects import opened
from oddpeg.diagnostics import Diagnostic, OddPegError, UsageError

if TYPE_CHECKING:
    from oddpeg.cli.documents.maintain import ConfigDocument, InitDocument, KindOfFile, OutputsDocument, SettingInForce


def init(
    directory: Annotated[
        Path, typer.Argument(metavar="[DIR]", help="The folder that holds the icons, or a font file.")
    ] = Path(),
    force: Annotated[bool, typer.Option("--force", help="Replace an oddpeg.toml that is there.")] = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Look at what is in a folder, or a font, and write an oddpeg.toml that builds as it is."""
    from oddpeg.config.loading import FILE, load_config
    from oddpeg.config.starter import make_start, start_from_font
    from oddpeg.sources.fonts import is_font_file

    if directory.is_file() and is_font_file(directory.name):
        start, directory = start_from_font(directory), directory.parent
    else:
        start = make_start(directory)
    path = directory / FILE
    if path.exists() and not force:
        what, cure = f"there is already a {FILE}", "edit it, or run again with --force to replace it"
        raise UsageError(Diagnostic("config-exists", what, cure, str(path)))
    _write_text(path, start.text)
    load_config(path, remember=True)  # writes the schema that the file names for editors
    if json:
        values: InitDocument = {"config": str(path), "drawings": start.count, "from": start.patterns}
        document(values)
    elif not quiet:
        say(f"wrote {path}: {start.count} drawings in {', '.join(start.patterns)}")
        if start.faces:
            say(f"faces of one family, by their folders: {', '.join(start.faces)}")
        say("next: oddpeg build" if directory == Path() else f"next: cd {directory} && oddpeg build")


def _write_text(path: Path, text: str) -> None:
    try:
        path.write_text(text, encoding="utf-8", newline="\n")
    except OSError as problem:
        what = f"cannot be written: {problem.strerror}"
        raise OddPegError(Diagnostic("write-failed", what, "check the folder's rights", str(path))) from None


def demo(
    directory: Annotated[Path, typer.Argument(metavar="[DIR]", help="Where to write the project.")] = Path(
        "saltmarsh-ferries"
    ),
    force: Force = False,
    quiet: Quiet = False,
    json: Json = False,
) -> None:
    """Write the Saltmarsh Ferries example project into a folder and build it."""
    from oddpeg.building.report import BuildOptions
    from oddpeg.cli.build import run_build
    from oddpeg.demo.sample import sample_files
    from oddpeg.store.delivery import NewFile, write_new

    write_new(directory, [NewFile(*file) for file in sample_files()], force)
    project = opened(directory, remember=True)
    run_build(project, BuildOptions(force=force), quiet, json)
    if not quiet and not json:
        say(f"\nopen {directory / 'dist' / 'web' / 'saltmarsh-signs-specimen.html'}")


def config(
    config: ConfigAt = None,
    schema: Annotated[
        bool, typer.Option("--schema", help="Print the JSON Schema of oddpeg.toml, for editors.")
    ] = False,
    json: Json = False,
) -> None:
    """Show the configuration in force: every value, and where it comes from."""
    from oddpeg.config.loading import SHIPPED_SCHEMA, explain_config
    from oddpeg.project.project import find_config

    if schema:
        document(json_module.loads(SHIPPED_SCHEMA.read_bytes()))
        return
    path = find_config(config)
    settings = explain_config(path)
    if json:
        rows: list[SettingInForce] = [{"key": s.key, "value": s.value, "line": s.line} for s in settings]
        values: ConfigDocument = {"config": str(path), "settings": rows}
        document(values)
        return
    say(os.path.relpath(path), "cyan")
    width = max(len(s.key) for s in settings)
    for setting in settings:
        origin = f"line {setting.line}" if setting.line else "default"
        say(f"  {setting.key:<{width}}  {origin:<8}  {_toml(setting.value)}", "" if setting.line else "bright_black")


def _toml(value: Any) -> str:
    """Return a value as a TOML file has it."""
    match value:
        case dict():
            if set(value) == {"kind", "to", "options"}:  # an output, as people write it
                value = {"kind": value["kind"], **({"to": value["to"]} if value["to"] else {}), **value["options"]}
                if list(value) == ["kind"]:
                    return _toml(value["kind"])
            inner = ", ".join(f"{key} = {_toml(item)}" for key, item in value.items())
            return f"{{ {inner} }}" if inner else "{}"
        case list():
            return f"[{', '.join(map(_toml, value))}]"
    return json_module.dumps(value, ensure_ascii=False)


def outputs(json: Json = False) -> None:
    """List what a bundle can hold, and where each thing goes."""
    from oddpeg.outputs.registry import FONT_KINDS, KINDS

    fonts = [(name, *about) for name, about in FONT_KINDS.items()]
    kinds = [(kind.name, kind.summary, kind.place) for kind in KINDS.values()]
    if json:
        tables: list[list[KindOfFile]] = [
            [{"name": name, "summary": summary, "place": place} for name, summary, place in rows]
            for rows in (fonts, kinds)
        ]
        values: OutputsDocument = {"fonts": tables[0], "outputs": tables[1]}
        document(values)
        return
    for title, rows in (('fonts = ["woff2", …]', fonts), ('outputs = ["css", …]', kinds)):
        say(title, "cyan")
        for name, summary, place in rows:
            say(f"  {name:<15}{summary}")
            say(f"  {'':<15}{place}")
