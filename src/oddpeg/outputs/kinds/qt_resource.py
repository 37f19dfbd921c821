"""Qt resource: the collection that puts the font into a program, and the lines that build and load it. Source: Qt, the
resource system.
"""

from __future__ import annotations

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import FaceFiles, OutputContext, Snippet
from oddpeg.outputs.escape import xml_comment, xml_text
from oddpeg.outputs.kind import Option, OutputKind, needs


def _names(icon_set: IconSet, context: OutputContext) -> list[tuple[FaceFiles, str]]:
    """Return every face with the name that its font has in the resource."""
    several = len(context.faces) > 1
    return [(face, f"{icon_set.stem}-{face.name}.ttf" if several else f"{icon_set.stem}.ttf") for face in context.faces]


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the collection."""
    files = [(xml_text(name), xml_text(face.urls.get("ttf", ""))) for face, name in _names(icon_set, context)]
    listed = "".join(f'    <file alias="{alias}">{file}</file>\n' for alias, file in files)
    return (
        f"<!-- {xml_comment(icon_set.family)} {xml_comment(icon_set.version)}. Written by Odd Peg. -->\n"
        f'<RCC>\n  <qresource prefix="{xml_text(str(context.options["prefix"]))}">\n'
        f"{listed}  </qresource>\n</RCC>\n"
    )


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the lines that build the resource and load the font."""
    folder = f":{str(context.options['prefix']).rstrip('/')}"
    return [
        Snippet("qt-resource", f"qt_add_resources(SOURCES {context.file})"),
        Snippet("qt-resource", f"pyside6-rcc {context.file} -o resources.py"),
        *(
            Snippet("qt-resource", f'QFontDatabase::addApplicationFont("{folder}/{name}");')
            for _, name in _names(icon_set, context)
        ),
    ]


KIND = OutputKind(
    "qt-resource",
    "resource collection that holds the font",
    "add it to the sources of the program",
    "{stem}.qrc",
    write,
    setup=setup,
    needs=needs("ttf"),
    needs_final_names=True,
    rank=20,
    options={"prefix": Option("/fonts", "the path within the program's resources")},
)
