"""`oddpeg config`: the effective configuration and its schema."""

from __future__ import annotations

import json as json_module
import os
from pathlib import Path
from typing import Annotated, Any, NamedTuple

import typer

from oddpeg.cli.options import ConfigAt, Json
from oddpeg.cli.printing import document, say
from oddpeg.cli.projects import opened
from oddpeg.config.loading import SHIPPED_SCHEMA, Setting, explain_config
from oddpeg.project.project import find_config
from oddpeg.reports import Key


class ConfigReport(NamedTuple):
    """The effective configuration."""

    config: Annotated[str, Key("file")]
    settings: Annotated[list[Setting], Key("every value")]


def config(
    config: ConfigAt = None,
    schema: Annotated[
        bool, typer.Option("--schema", help="Print the JSON Schema of oddpeg.toml, for editors.")
    ] = False,
    repin: Annotated[
        bool,
        typer.Option(
            "--repin", help="Choose units per em and descent anew, as suits the drawings now; icons may move."
        ),
    ] = False,
    json: Json = False,
) -> None:
    """Show the effective configuration: every value, and where it comes from."""
    if schema:
        document(json_module.loads(SHIPPED_SCHEMA.read_bytes()))
        return
    if repin:
        _repin(config, json)
    if repin and not json:
        return
    path = find_config(config)
    settings = explain_config(path)
    if json:
        document(ConfigReport(str(path), settings))
        return
    say(os.path.relpath(path), "cyan")
    width = max(len(s.key) for s in settings)
    for setting in settings:
        origin = f"line {setting.line}" if setting.line else "default"
        say(f"  {setting.key:<{width}}  {origin:<8}  {_toml(setting.value)}", "" if setting.line else "bright_black")


def _repin(config: Path | None, json: bool) -> None:
    from oddpeg.building.placing import repin  # reads drawings, for this alone

    before, after = repin(opened(config))
    if json:
        return
    if before.places_like(after):
        say(f"{after.units} units per em, descent {after.drop:.4g}: as before")
    else:
        say(f"units per em: {before.units} -> {after.units}, descent: {before.drop:.4g} -> {after.drop:.4g}", "cyan")
        say("the next `oddpeg build` changes every icon: raise the major version")


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
