"""Checks pages and sources for replaced phrases, and pages for long sentences; prints the words of each page.

Exit code 1 if there is a finding. Tables and code blocks are skipped; code within a sentence counts as one word.
"""

from __future__ import annotations

import re
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
PAGES = [ROOT / "README.md", ROOT / "CONTRIBUTING.md", *sorted((ROOT / "docs").rglob("*.md"))]
SOURCES = [path for path in sorted((ROOT / "src" / "oddpeg").rglob("*")) if path.suffix in (".py", ".jinja")]
LONG = 25  # words of a sentence

# phrase → what to write
REPLACED = {
    r"stands? for\b": "hash of, key of, means",
    r"worked out": "resolved, computed",
    r"in force": "effective",
    r"\bturn(s|ed)? round": "mirrored",
    r"in haste": "compressed fast",
    r"whoever|whatever\b": "name the person or thing",
    r"\b(of ours|those that)\b": "name the thing",
    r"\b(is|are) (said|told|taken for)\b": "active voice",
    r"\bleft out\b": "skipped, omitted, default",
    r"what is (said|odd|meant)": "messages, anomalies, intended findings",
    r"say of themselves": "metadata",
    r"became of|becomes of": "result",
    r"nobody(?:'s)?\b": "no one, or name the subject",
    r"taken? back": "roll back",
    r"sanded|won't fit": "adjusted, rejected",
    r"without loss": "lossless",
    r"beside (it|them|that)\b": "next to, in addition to",
}
_CODE = re.compile(r"```[\s\S]*?```|^\|.*$|<[^>]+>|\]\([^)]*\)|^#.*$|^\s*!\[.*$", re.M)
_INLINE = re.compile(r"`[^`\n]*`")
_ENDS = re.compile(r"(?<=[.!?:;])\)?\s+(?=[A-Z(\"“*])|\n\s*\n|^\s*[-*\d]+[.)]?\s", re.M)


def _without_code(text: str) -> str:
    """Return a page with code, tables and headings blanked; lines keep their numbers."""
    blank = _CODE.sub(lambda match: "\n" * match[0].count("\n") + " ", text)
    return _INLINE.sub("Code", blank)


def _words(sentence: str) -> int:
    return len(re.findall(r"\w[\w'’-]*", sentence))


def replaced(text: str) -> list[tuple[int, str]]:
    """Return the replaced phrases in a text, as pairs of an offset and a message."""
    return [
        (match.start(), f"{match[0]!r}: write {instead}")
        for pattern, instead in REPLACED.items()
        for match in re.finditer(pattern, text)
    ]


def long_sentences(plain: str) -> list[tuple[int, str]]:
    """Return the long sentences of a page without code, as pairs of an offset and a message."""
    found, start = [], 0
    for end in [*_ENDS.finditer(plain), None]:
        sentence = plain[start : end.start() if end else None]
        if (count := _words(sentence)) > LONG:
            found.append((start, f"a sentence of {count} words: {' '.join(sentence.split())[:60]} …"))
        start = end.end() if end else 0
    return found


def show(path: Path, text: str, findings: list[tuple[int, str]]) -> int:
    """Print findings on a file with their lines; return how many there are."""
    for offset, message in findings:
        line = text.count("\n", 0, offset) + 1
        print(f"{path.relative_to(ROOT)}:{line}: {message}")
    return len(findings)


def main() -> int:
    """Print findings and figures; return the exit code."""
    count = 0
    for page in PAGES:
        text = page.read_text(encoding="utf-8")
        plain = _without_code(text)
        count += show(page, plain, [*replaced(plain), *long_sentences(plain)])
        print(f"{page.relative_to(ROOT)}: {_words(plain)} words, {len(text.split())} with tables and code")
    for source in SOURCES:
        text = source.read_text(encoding="utf-8")
        count += show(source, text, replaced(text))
    return 1 if count else 0


if __name__ == "__main__":
    sys.exit(main())
