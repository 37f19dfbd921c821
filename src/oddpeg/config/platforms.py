"""The bundle that fits the project around a folder of icons, for `init`."""

from __future__ import annotations

import json
import re
import tomllib
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any, NamedTuple

from oddpeg.font.write.info import file_stem
from oddpeg.outputs.naming import family_words, lower, pascal
from oddpeg.store.tree import Tree

_LONGEST = 1_000_000  # bytes of a project's file that is looked into
_NAMESPACE = re.compile(r"""namespace\s*=?\s*["']([\w.]+)["']""")
_FRAMEWORKS = (  # package in package.json → platform, the most special first
    ("expo", "react-native"), ("react-native", "react-native"), ("@angular/core", "angular"), ("svelte", "svelte"),
    ("vue", "vue"), ("solid-js", "solid"), ("react", "react"),
)  # fmt: skip
_USES = (  # in a .csproj → platform
    ("<UseMaui>true", "maui"), ("<UseWinUI>true", "winui"), ("<UseWPF>true", "wpf"), ("Avalonia", "avalonia"),
)  # fmt: skip


class Found(NamedTuple):
    """The project around some icons.

    Attributes:
        platform: a name in `PLATFORMS`.
        file: that tells so; empty for none.
        name: of the project; empty where the file has none.
    """

    platform: str
    file: str = ""
    name: str = ""


WEB = Found("web")


class _Place(NamedTuple):
    """What the bundle of a platform depends on.

    Attributes:
        root: of the project.
        stem, under, type, package: the family's name as file, word with underscores, type, and package name.
    """

    root: Path
    stem: str
    under: str
    type: str
    package: str

    def source(self, name: str) -> str:
        """Return a folder among the sources."""
        return f"src/{name}" if (self.root / "src").is_dir() else name


def _bundle(name: str, into: str, fonts: str, outputs: str) -> str:
    listed = f'fonts = ["{fonts}"]\n' if fonts else "fonts = []\n"
    more = "    # all kinds: oddpeg outputs"
    return f'[bundle.{name}]\ninto = "{into}"\n{listed}outputs = [{outputs}]{more}\n'


def _component(kind: str) -> Callable[[_Place], str]:
    return lambda place: _bundle("app", place.source(place.stem), "woff2", f'"css", "{kind}"')


def _xaml(dialect: str) -> Callable[[_Place], str]:
    outputs = f'{{ kind = "xaml", dialect = "{dialect}" }}, "csharp"'
    return lambda place: _bundle("app", place.type, "ttf", outputs)


def _module(place: _Place) -> str:
    """Return the folder of an Android app's main sources."""
    return "app/src/main" if (place.root / "app").is_dir() else "src/main"


def _compose(place: _Place) -> str:
    main = _module(place)
    scripts = (main.removesuffix("src/main") + name for name in ("build.gradle.kts", "build.gradle"))
    found = next((match for script in scripts if (match := _NAMESPACE.search(_text(place.root, script)))), None)
    package = found[1] if found else "icons"
    to = f"../../java/{package.replace('.', '/')}/{place.type}Icons.kt"
    output = f'{{ kind = "compose", package = "{package}", to = "{to}" }}'
    return _bundle("app", f"{main}/res/font", "ttf", output)


def _android(place: _Place) -> str:
    return _bundle("app", f"{_module(place)}/res/font", "ttf", '"android-xml"')


def _jvm(kind: str, ending: str) -> Callable[[_Place], str]:
    def bundle(place: _Place) -> str:
        to = f"../../{kind}/{place.package}/{place.type}.{ending}"
        output = f'{{ kind = "{kind}", package = "{place.package}", to = "{to}" }}'
        return _bundle("app", f"src/main/resources/{place.stem}", "ttf", output)

    return bundle


def _pages(place: _Place, kind: str, file: str) -> str:
    """Return the bundle of a server that makes pages. file: of its code."""
    outputs = f'"css", {{ kind = "{kind}", to = "../../{file}" }}'
    return _bundle("web", f"public/{place.stem}", "woff2", outputs)


def _solid(place: _Place) -> str:
    output = '{ kind = "svg-modules", for = "solid", to = "index.mjs" }'
    return _bundle("app", place.source(place.stem), "", output)


PLATFORMS: Mapping[str, Callable[[_Place], str]] = {
    "web": lambda p: (
        '[bundle.web]\ninto = "dist/web"\nfonts = ["woff2", "woff"]\n'
        'outputs = ["css", "typescript", "json", "specimen"]    # all kinds: oddpeg outputs\n'
    ),
    "bundler": lambda p: _bundle("app", p.source(p.stem), "woff2", '"css", "typescript"'),
    "react": _component("react"),
    "vue": _component("vue"),
    "svelte": _component("svelte"),
    "angular": _component("angular"),
    "solid": _solid,
    "react-native": lambda p: _bundle("app", f"assets/{p.stem}", "ttf", '"react-native"'),
    "flutter": lambda p: _bundle("app", "fonts", "ttf", f'{{ kind = "dart", to = "../lib/{p.under}.dart" }}'),
    "compose": _compose,
    "android": _android,
    "java": _jvm("java", "java"),
    "kotlin": _jvm("kotlin", "kt"),
    "swift": lambda p: _bundle("app", p.type, "ttf", '"swift", "swift-package"'),
    "wpf": _xaml("wpf"),
    "winui": _xaml("winui"),
    "maui": _xaml("maui"),
    "avalonia": _xaml("avalonia"),
    "csharp": lambda p: _bundle("app", p.type, "ttf", '"csharp"'),
    "qt": lambda p: _bundle("app", p.stem, "ttf", '"qt-resource", "c-header"'),
    "c": lambda p: _bundle("app", p.stem, "ttf", '"c-header"'),
    "python": lambda p: _bundle("app", p.source(p.under), "ttf", '"python"'),
    "rust": lambda p: _bundle("app", "assets", "ttf", f'{{ kind = "rust", to = "../src/{p.under}.rs" }}'),
    "go": lambda p: _bundle("app", p.package, "ttf", '"go"'),
    "php": lambda p: _pages(p, "php", f"src/{p.type}.php"),
    "ruby": lambda p: _pages(p, "ruby", f"lib/{p.under}.rb"),
}  # fmt: skip


def bundle_for(platform: str, root: Path, family: str) -> str:
    """Return the table of a bundle for a platform. root: the project's folder."""
    words = family_words(family)
    place = _Place(root, file_stem(family), lower(words), pascal(words), "".join(words).lower())
    return PLATFORMS[platform](place)


def detect(root: Path) -> Found:
    """Return the platform of the project in a folder, by the files that its tools read; a web page where there are
    none."""
    for pattern, platform in _FILES.items():
        for path in sorted(root.glob(pattern))[:1]:
            if not path.is_symlink():
                return platform(root, path.name)
    return WEB


def _text(root: Path, name: str) -> str:
    """Return the text of a file of the project; empty where it is none, is too long, or is reached by a link."""
    try:
        return Tree(root).read(name, _LONGEST).decode("utf-8-sig", "replace")
    except OSError:
        return ""


def _of_npm(root: Path, file: str) -> Found:
    try:
        values: Any = json.loads(_text(root, file))
    except (ValueError, RecursionError):
        return Found("bundler", file)
    values = values if isinstance(values, dict) else {}
    tables = [values.get(key) for key in ("dependencies", "devDependencies", "peerDependencies")]
    needed = {name for table in tables if isinstance(table, dict) for name in table}
    platform = next((platform for package, platform in _FRAMEWORKS if package in needed), "bundler")
    return Found(platform, file, str(values.get("name") or "").rpartition("/")[2])


def _of_flutter(root: Path, file: str) -> Found:
    name = re.search(r"(?m)^name:\s*(\w+)", _text(root, file))
    return Found("flutter", file, name[1] if name else "")


def _of_gradle(root: Path, file: str) -> Found:
    scripts = (file, "app/build.gradle.kts", "app/build.gradle", "build.gradle")
    text = "".join(_text(root, script) for script in scripts)
    if "compose" in text:
        return Found("compose", file)
    if "com.android" in text or (root / "app").is_dir():
        return Found("android", file)
    return Found("kotlin" if "kotlin" in text else "java", file)


def _of_dotnet(root: Path, file: str) -> Found:
    text = _text(root, file)
    return Found(next((name for word, name in _USES if word in text), "csharp"), file, file.removesuffix(".csproj"))


def _of_cmake(root: Path, file: str) -> Found:
    return Found("qt" if re.search(r"find_package\s*\(\s*Qt", _text(root, file)) else "c", file)


def _of_python(root: Path, file: str) -> Found:
    try:
        name = tomllib.loads(_text(root, file)).get("project", {}).get("name", "")
    except (ValueError, AttributeError, RecursionError):
        name = ""
    return Found("python", file, name if isinstance(name, str) else "")


def _always(platform: str) -> Callable[[Path, str], Found]:
    return lambda root, file: Found(platform, file)


_FILES: Mapping[str, Callable[[Path, str], Found]] = {
    "pubspec.yaml": _of_flutter,
    "package.json": _of_npm,
    "settings.gradle*": _of_gradle,
    "build.gradle*": _of_gradle,
    "pom.xml": _always("java"),
    "*.csproj": _of_dotnet,
    "Package.swift": _always("swift"),
    "*.xcodeproj": _always("swift"),
    "CMakeLists.txt": _of_cmake,
    "Cargo.toml": _always("rust"),
    "go.mod": _always("go"),
    "composer.json": _always("php"),
    "Gemfile": _always("ruby"),
    "pyproject.toml": _of_python,
}
