"""A project of all that is hard to name.

Reserved words of every language, leading digits, other scripts, emoji, names of one letter and of eighty, names that
nearly clash; letters and marks as codepoints, others on both sides of U+FFFF; a mirrored icon, aliases, an icon that
was renamed twice.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from pathlib import Path

from support.project import RING, SQUARE, ProjectFolder

_RESERVED = """
class default import for while this null true false new int final object fun when is in as let self init enum
struct func nil case switch return static void public private protocol operator namespace string event lock
abstract dynamic get set async await yield with pass def lambda auto register union typedef constructor
prototype family package raw-value hash-code to-string equals first last h
"""
# what things are called that generated code stands beside
_MEMBERS = "companion entries kotlin name ordinal values module exports require arguments eval undefined index icons"
LETTERS = {
    "quote": '"', "apostrophe": "'", "at": "@", "query": "?", "backslash": "\\", "brace": "{", "dollar": "$",
    "less-than": "<", "ampersand": "&", "hash": "#", "percent": "%", "letter-a": "a", "digit-7": "7",
}  # fmt: skip
NAMES = [
    *_RESERVED.split(), *_MEMBERS.split(), "3-masts", "3masts", "潮", "é-ü", "e-u", "u6f6e", "a-b", "ab", "a-1",
    "a1", "tide-low", "x" * 60, "y" * 80, "q", "mast⚓", "straße", "strasse", *LETTERS,
]  # fmt: skip
CONFIG = """\
[font]
family = "Odd $Signs"
ligatures = true
[icons]
from = ["icons/*.svg"]
[classes]
prefix = "od"
mirrored = ["tide-low"]
[pegs]
range = ["U+F8F0-U+F8FF", "U+F0000-U+F01FF"]
[[rights]]
files = "*"
licence = "None */ of -- <your> \\"$business\\""
"""
_BUNDLE = """
[bundle.web]
into = "out"
fonts = ["ttf", "woff2"]
outputs = [{}]
"""


def nasty_project(root: Path, outputs: Sequence[str]) -> ProjectFolder:
    """Return the project, built. outputs: kinds, or tables as TOML writes them."""
    texts = (output if output.startswith("{") else json.dumps(output) for output in outputs)
    project = ProjectFolder(root).config(CONFIG + _BUNDLE.format(", ".join(texts)))
    for i, name in enumerate(NAMES):
        title = f"<title>*/ $x {{}} \\u0022 &lt;!-- {i}</title></svg>"
        project.icon(name, (SQUARE if i % 2 else RING).replace("</svg>", title))
    project.write("icons/icons.csv", "icon,aliases\ntide-low,ebb\n")
    rows = sorted((name, f"U+{ord(character):04X}") for name, character in LETTERS.items())
    project.write("pegboard.csv", "".join(["icon,codepoint,state\n", *(f"{n},{code},live\n" for n, code in rows)]))
    project.deliver()
    for before, after in (("lambda", "wave"), ("wave", "ripple")):
        assert project.run("pegs", "rename", before, after).returncode == 0
    project.deliver()
    return project


def codes(project: ProjectFolder) -> dict[str, int]:
    """Every name, aliases too, and its codepoint."""
    icons = project.read_json("out/odd-signs.json")["icons"]
    return {name: i["codepoint"] for i in icons for name in (i["name"], *i["aliases"])}
