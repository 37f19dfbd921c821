"""Checks the pages for phrases that the language rules replace, and prints figures on sentences and paragraphs.

Exit code 1 where a phrase is found. Generated tables and code blocks are skipped.
"""

from __future__ import annotations

import re
import statistics
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
PAGES = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").glob("*.md"))]
LONG = 25  # words of a sentence

# phrase → what to write
REPLACED = {
    r"stands? for\b": "hash of, key of, means",
    r"worked out": "resolved, computed",
    r"in force": "effective",
    r"turn(s|ed)? round": "mirrored",
    r"in haste": "compressed fast",
    r"whoever|whatever\b": "name the person or thing",
    r"what is (said|odd|meant)": "messages, anomalies, intended findings",
    r"say of themselves": "metadata",
    r"became of|becomes of": "result",
    r"nobody(?:'s)?\b": "no one, or name the subject",
    r"taken? back": "roll back",
    r"sanded|won't fit": "adjusted, rejected",
    r"without loss": "lossless",
    r"beside (it|them|that)\b": "next to, in addition to",
}
_CODE = re.compile(r"```[\s\S]*?```|`[^`\n]*`|^\|.*$|<[^>]+>|\]\([^)]*\)|^#.*$|^\s*!\[.*$", re.M)


def _without_code(text: str) -> str:
    """Return a page with code, tables and headings blanked; lines keep their numbers."""
    return _CODE.sub(lambda match: "\n" * match[0].count("\n") + " ", text)


def sentences(text: str) -> list[int]:
    """Return the number of words of each sentence of a page."""
    parts = re.split(r"(?<=[.!?:;])\s+(?=[A-Z])|\n\s*\n|^\s*[-*\d]+[.)]?\s", _without_code(text), flags=re.M)
    return [count for part in parts if (count := len(re.findall(r"\w[\w'’-]*", part))) > 2]


def main() -> int:
    """Print findings and figures; return the exit code."""
    found = 0
    for page in PAGES:
        text = page.read_text(encoding="utf-8")
        plain = _without_code(text)
        for pattern, instead in REPLACED.items():
            for match in re.finditer(pattern, plain):
                line = plain.count("\n", 0, match.start()) + 1
                print(f"{page.relative_to(ROOT)}:{line}: {match[0]!r}: write {instead}")
                found += 1
        words = sentences(text)
        share = sum(count > LONG for count in words) / max(len(words), 1)
        total, median = sum(words), statistics.median(words or [0])
        print(f"{page.relative_to(ROOT)}: {total} words, median {median:g} a sentence, {share:.0%} over {LONG}")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
