"""Swift package: the Package.swift that makes of a bundle's folder a package, and the code that registers the font from
its resources. Source: Swift Package Manager, package description.
"""

from __future__ import annotations

import posixpath

from oddpeg.iconset.model import IconSet
from oddpeg.outputs.context import OutputContext, Snippet
from oddpeg.outputs.escape import comment, swift_string
from oddpeg.outputs.kind import OutputKind, needs
from oddpeg.outputs.naming import family_words, pascal


def _type(icon_set: IconSet) -> str:
    return pascal(family_words(icon_set.family))


def write(icon_set: IconSet, context: OutputContext) -> str:
    """Return the manifest. Sources and the font are in the same folder."""
    name = _type(icon_set)
    sources = [other.url for other in context.sibling_outputs if other.kind == "swift"]
    listed = ", ".join(swift_string(url) for url in (*sources, f"{name}Font.swift"))
    others = sorted(file.url for file in context.delivered if not file.url.endswith((".ttf", ".swift")))
    excluded = ", ".join(swift_string(url) for url in others if not url.startswith("../"))
    fonts = ", ".join(f".copy({swift_string(face.urls.get('ttf', ''))})" for face in context.faces)
    return f"""\
// swift-tools-version:5.7
// {comment(icon_set.family)} {comment(icon_set.version)}. Written by Odd Peg.
import PackageDescription

let package = Package(
    name: {swift_string(name)},
    products: [.library(name: {swift_string(name)}, targets: [{swift_string(name)}])],
    targets: [
        .target(
            name: {swift_string(name)},
            path: ".",
            exclude: [{excluded}],
            sources: [{listed}],
            resources: [{fonts}]
        )
    ]
)
"""


def companions(icon_set: IconSet, context: OutputContext) -> dict[str, str]:
    """Return the code that registers the font."""
    name = _type(icon_set)
    files = [posixpath.basename(face.urls.get("ttf", "")) for face in context.faces]
    stems = ", ".join(swift_string(file.removesuffix(".ttf")) for file in files)
    text = f"""\
// {comment(icon_set.family)} {comment(icon_set.version)}. Written by Odd Peg. @generated
import CoreText
import Foundation

/// The font of {name}, which is in this package.
public enum {name}Font {{
    /// Makes the font known to the program; done once, however often it is called.
    public static let registered: Bool = {{
        [{stems}].allSatisfy {{ file in
            guard let url = Bundle.module.url(forResource: file, withExtension: "ttf") else {{ return false }}
            return CTFontManagerRegisterFontsForURL(url as CFURL, .process, nil)
        }}
    }}()
}}
"""
    return {f"{name}Font.swift": text}


def setup(icon_set: IconSet, context: OutputContext) -> list[Snippet]:
    """Return the dependency on the package, and the line that registers the font."""
    folder, name = context.file.rpartition("/")[0] or ".", _type(icon_set)
    return [
        Snippet("swift-package", f".package(path: {swift_string(folder)})"),
        Snippet("swift-package", f"_ = {name}Font.registered"),
    ]


KIND = OutputKind(
    "swift-package",
    "Package.swift, which makes the bundle's folder a package that registers its font",
    "depend on the bundle's folder; put the output `swift` into the same bundle",
    "Package.swift",
    write,
    setup=setup,
    companions=companions,
    needs=needs("ttf"),
    needs_final_names=True,
    rank=20,
)
