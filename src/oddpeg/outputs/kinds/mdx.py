"""MDX: a page of all icons for sites of documentation. Source: MDX 3: CommonMark with elements of JSX."""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.escape import script_string, xml_text
from oddpeg.outputs.kind import OutputKind, needs
from oddpeg.outputs.kinds.markdown import plain
from oddpeg.outputs.render import render_kind
from oddpeg.outputs.scripts import module_path


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the page. It imports the stylesheet of the bundle, where there is one."""
    sheets = [other.url for other in context.sibling_outputs if other.kind == "css"]
    rows = [(xml_text(icon.name), plain(icon.title), plain(", ".join(icon.aliases))) for icon in icon_set.icons]
    return render_kind(
        "mdx.jinja",
        icon_set,
        family=plain(icon_set.family),
        rows=rows,
        sheet=script_string(module_path(sheets[0])) if sheets else "",
    )


KIND = OutputKind(
    "mdx",
    "page of all icons for sites of documentation",
    "put it with the pages of the site; the bundle needs css",
    "{stem}.mdx",
    write,
    needs=needs("woff2", "woff", "ttf"),
    rank=8,
)
