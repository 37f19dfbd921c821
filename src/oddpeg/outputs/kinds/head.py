"""Head: the lines of HTML that a page needs once. Source: HTML, link types preload and stylesheet; Subresource
Integrity."""

from __future__ import annotations

import base64
import hashlib

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import FinishedFile, OutputContext
from oddpeg.outputs.escape import xml_comment, xml_text
from oddpeg.outputs.face_rules import served
from oddpeg.outputs.kind import Option, OutputKind, needs
from oddpeg.outputs.scripts import WIDTH


def _url(context: OutputContext, file: FinishedFile) -> str:
    """Return where a page finds a file. A folder that the page is served with goes before it."""
    base = str(context.options["base"])
    return xml_text(f"{base.rstrip('/')}/{file.url}" if base else file.url)


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the lines: the default face is asked for at once, before the stylesheet that names it is read."""
    lines = [f"<!-- {xml_comment(icon_set.family)} {xml_comment(icon_set.version)}. Written by Odd Peg. -->"]
    sheet_options = next((other.options for other in context.sibling_outputs if other.kind == "css"), {})
    address = str(sheet_options.get("url") or "")  # the same that the stylesheet names, or it would be loaded twice
    embedded = bool(sheet_options.get("embed"))
    fonts = [file for file in context.delivered if file.kind == "woff2" and file.first and not embedded]
    sheets = [file for file in context.delivered if file.kind == "css"]
    for font in fonts if sheets and context.options["preload"] else []:
        url = xml_text(served(address, font.url)) if address else _url(context, font)
        lines.append(_tag("link", f'rel="preload" href="{url}" as="font" type="font/woff2" crossorigin'))
    for sheet in sheets:
        digest = base64.b64encode(hashlib.sha384(sheet.data).digest()).decode()
        lines.append(_tag("link", f'rel="stylesheet" href="{_url(context, sheet)}" integrity="sha384-{digest}"'))
    elements = [file for file in context.delivered if file.kind == "web-component"]
    for module in (file for file in elements if file.url.endswith((".mjs", ".js"))):  # not its types and manifest
        lines.append(_tag("script", f'type="module" src="{_url(context, module)}"'))
    return "\n".join(lines) + "\n"


def _tag(name: str, attributes: str) -> str:
    """Return an element as formatters have it. attributes: separated by spaces; URLs have none."""
    end = " />" if name == "link" else f"></{name}>"
    line = f"<{name} {attributes}{end}"
    if len(line) <= WIDTH:
        return line
    return f"<{name}\n  " + attributes.replace(" ", "\n  ") + f"\n{end.strip()}"


KIND = OutputKind(
    "head",
    "the lines that a page needs in its head: preload, stylesheet with its digest, element",
    "include it in the head of your pages",
    "{stem}-head.html",
    write,
    needs=needs("woff2", "woff", "ttf"),
    needs_final_names=True,
    rank=1,
    options={
        "base": Option("", "the URL of its own folder; empty for pages in the same folder"),
        "preload": Option(True, "ask for the font before the stylesheet is read"),
    },
)
