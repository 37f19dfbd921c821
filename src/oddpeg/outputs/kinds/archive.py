"""Archive: a bundle as one ZIP file with a page to begin with, for hosts that take uploads. The same files make the
same bytes. Source: PKWARE, .ZIP File Format Specification.
"""

from __future__ import annotations

import io
import zipfile
from urllib.parse import unquote

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext
from oddpeg.outputs.kind import OutputKind
from oddpeg.outputs.render import render_kind

_WHEN = (1980, 1, 1, 0, 0, 0)  # the first that the format knows: the same input gives the same bytes


def write(icon_set: IconSet, context: OutputContext) -> bytes:
    """Return the archive: every file of the bundle in or below its own folder, a page that shows the icons, and their
    licences."""
    files = {unquote(file.url): file.data for file in context.delivered if not file.url.startswith("../")}
    sheets = [file.url for file in context.delivered if file.kind == "css"]
    page = render_kind("archive_page.html.jinja", icon_set, sheets=sheets)
    files["index.html"] = files.get("index.html", page.encode())
    rights = [icon_set.licence, icon_set.licence_url, icon_set.copyright, icon_set.designer]
    if any(rights):
        files["LICENCE.txt"] = files.get("LICENCE.txt", ("\n".join(filter(None, rights)) + "\n").encode())
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
        for name, data in sorted(files.items()):
            entry = zipfile.ZipInfo(name, _WHEN)
            entry.compress_type = zipfile.ZIP_DEFLATED
            entry.external_attr = 0o100644 << 16
            entry.create_system = 3  # the same on every system
            archive.writestr(entry, data)
        archive.comment = f"{icon_set.family} {icon_set.version}. Written by Odd Peg.".encode()
    return out.getvalue()


KIND = OutputKind(
    "archive",
    "one ZIP file of the bundle, with a page and the licence",
    "upload it to hosts that take archives",
    "{stem}.zip",
    write,
    needs_final_names=True,
    rank=95,
)
