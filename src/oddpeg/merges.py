"""Texts in which version control marked the conflict of a merge. Source: git-merge, "How conflicts are presented"."""

from __future__ import annotations

CONFLICT_MARKS = ("<<<<<<<", "=======", ">>>>>>>", "|||||||")


def holds_conflict(text: str) -> bool:
    """Return whether a text holds the beginning of a conflict."""
    return text.startswith(CONFLICT_MARKS[0]) or f"\n{CONFLICT_MARKS[0]}" in text


def merge_sides(text: str) -> list[str]:
    """Return both sides of a text with conflicts. The common ancestor of a three-way mark is on neither."""
    sides: tuple[list[str], list[str]] = ([], [])
    into: tuple[list[str], ...] = sides
    for line in text.splitlines(keepends=True):
        match line[:7]:
            case "<<<<<<<":
                into = sides[:1]
            case "|||||||":
                into = ()
            case "=======" if into is not sides:
                into = sides[1:]
            case ">>>>>>>":
                into = sides
            case _:
                for side in into:
                    side.append(line)
    return ["".join(side) for side in sides]
