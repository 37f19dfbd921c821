"""Metadata of icons: other names, tags, title, licence, credit.

From `icons.csv` next to the drawings, and from `[[rights]]` in the config where the table has no entry.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Collection, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from fnmatch import fnmatchcase
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic, one_line
from oddpeg.iconset.names import icon_name
from oddpeg.suggestions import Guesses, did_you_mean

COLUMNS = ("icon", "aliases", "tags", "title", "licence", "credit")
_BETWEEN = re.compile(r"\s*[,;|]\s*")


class IconMetadata(NamedTuple):
    """Metadata of one icon.

    Attributes:
        aliases: other names it may be called by.
        tags: words it can be found by.
        title: in words, or empty.
        licence: of its drawing, or empty.
        credit: who drew it, or empty.
        where, line: of the table that says so.
    """

    aliases: tuple[str, ...] = ()
    tags: tuple[str, ...] = ()
    title: str = ""
    licence: str = ""
    credit: str = ""
    where: str = ""
    line: int | None = None


class TableProblem(NamedTuple):
    """An error in a table, or an entry that no table has.

    Attributes:
        icon: whom it concerns, or empty.
        diagnostic: to be shown.
    """

    icon: str
    diagnostic: Diagnostic


class Rights(NamedTuple):
    """Licence and credit of the drawings whose path, from the project, a pattern matches."""

    files: str
    licence: str
    credit: str


class IconFile(NamedTuple):
    """An icon that has a drawing.

    Attributes:
        name: of the icon.
        where: its file, relative to the project.
    """

    name: str
    where: str


@dataclass(slots=True)
class Metadata:
    """Metadata by icon name, and the errors of the tables."""

    icons: dict[str, IconMetadata] = field(default_factory=dict)
    problems: list[TableProblem] = field(default_factory=list)

    def of(self, icon: str) -> IconMetadata:
        """Return the metadata of an icon."""
        return self.icons.get(icon, IconMetadata())

    def add(self, code: str, icon: str, message: str, cure: str, where: str, line: int | None = None) -> None:
        """Add an error or a warning."""
        self.problems.append(TableProblem(icon, Diagnostic(code, message, cure, where, line)))

    def read_table(self, text: str, where: str) -> None:
        """Add the rows of a table; its first line names its columns, in any order. where: the table, for messages."""
        try:
            self._read_rows(text, where)
        except csv.Error as problem:
            self.add("table-unreadable", "", f"cannot be read on: {problem}", "shorten what stands in its cells", where)

    def _read_rows(self, text: str, where: str) -> None:
        rows = csv.reader(io.StringIO(text), delimiter=_delimiter(text))
        columns = [c.strip().lower() for c in next(rows, [])]
        for column in columns:
            if column and column not in COLUMNS:
                cure = did_you_mean(column, COLUMNS, f"columns are: {', '.join(COLUMNS)}", 1, 0.5)
                self.add("table-column", "", f"has an unknown column {column!r}; it was skipped", cure, where, 1)
        if "icon" not in columns:
            message = "has no column 'icon', so its lines name no icons"
            self.add("table-column", "", message, f"let the first line be {','.join(COLUMNS)}", where, 1)
            return
        for row in rows:
            if any(cell.strip() for cell in row):
                cells = dict(zip(columns, map(one_line, row), strict=False))
                self._read_row(cells, where, rows.line_num)

    def _read_row(self, cells: dict[str, str], where: str, line: int) -> None:
        name = icon_name(cells.get("icon", ""))
        if not name:
            self.add(
                "table-unknown-icon",
                "",
                "has a line without an icon",
                "name the icon in it, or delete the line",
                where,
                line,
            )
        elif name in self.icons:
            first = self.icons[name]
            message = f"names {name!r} a second time, after {first.where}:{first.line}; this line was skipped"
            self.add("table-repeated-icon", name, message, "put both lines together", where, line)
        else:
            aliases = dict.fromkeys(icon_name(a) for a in _BETWEEN.split(cells.get("aliases", "")))
            tags = dict.fromkeys(t.lower() for t in _BETWEEN.split(cells.get("tags", "")))
            self.icons[name] = IconMetadata(
                tuple(a for a in aliases if a and a != name),
                tuple(t for t in tags if t),
                cells.get("title", ""),
                cells.get("licence", ""),
                cells.get("credit", ""),
                where,
                line,
            )

    def refuse_unknown(self, known: Collection[str]) -> None:
        """Add a problem for every icon that a table names and that does not exist."""
        guesses = Guesses(known)
        for name, entry in self.icons.items():
            if name not in known:
                near = guesses.nearest(name, 1)
                cure = f"did you mean {near[0]}?" if near else "add its drawing, or delete the line"
                message = f"names the icon {name!r}, which does not exist"
                self.add("table-unknown-icon", name, message, cure, entry.where, entry.line)

    def settle_aliases(self, known: Collection[str], older: Collection[str]) -> None:
        """Leave out aliases that something else is called. known: icons that exist; older: names of icons renamed."""
        holders: dict[str, str] = {}
        for name, entry in self.icons.items():
            kept = []
            for alias in entry.aliases if name in known else ():
                other = (
                    "an icon's own name" if alias in known else "the older name of an icon" if alias in older else ""
                )
                other = other or (f"an alias of {holders[alias]!r} too" if alias in holders else "")
                if other:
                    message = f"{name!r} cannot have the alias {alias!r}: it is {other}"
                    self.add(
                        "alias-clash", name, message, "choose another alias, or make it a tag", entry.where, entry.line
                    )
                else:
                    holders[alias] = name
                    kept.append(alias)
            self.icons[name] = entry._replace(aliases=tuple(kept))

    def apply_rights(self, icons: Iterable[IconFile], rules: Sequence[Rights], required: bool, cure: str) -> None:
        """Fill in licence and credit by rules, the last that matches first.

        required: an icon that has no licence then is an error, with this cure.
        """
        if not rules and not required:
            return
        for name, where in icons:
            entry = self.of(name)
            for rule in reversed(rules):
                if fnmatchcase(where, rule.files):
                    entry = entry._replace(licence=entry.licence or rule.licence, credit=entry.credit or rule.credit)
            if required and not entry.licence:
                self.add("no-licence", name, "has no licence, and the config asks for one", cure, where)
            if entry != IconMetadata():
                self.icons[name] = entry


def renamed_in_table(text: str, old: str, new: str) -> str:
    """Return a table in which an icon has another name: in the column `icon`, wherever it stands and however it is
    written. All other characters stay."""
    delimiter = _delimiter(text)
    cell = re.compile(rf'("(?:[^"]|"")*+"|[^{delimiter}\r\n]*+)({delimiter}|\r\n|\n|\r|\Z)')
    columns: list[str] = []
    parts: list[str] = []
    row = column = 0
    for match in cell.finditer(text):
        written, ending = match[1], match[2]
        plain = " ".join(written.strip('"').split())
        if row == 0:
            columns.append(plain.lower())
        elif column < len(columns) and columns[column] == "icon" and icon_name(plain) == old:
            written = written.replace(written.strip('"').strip(), new)
        parts += written, ending
        row, column = (row, column + 1) if ending == delimiter else (row + 1, 0)
    return "".join(parts)


def _delimiter(text: str) -> str:
    """Return what separates the cells of a table: spreadsheets write what their country is used to."""
    return max(",;\t", key=text.split("\n", 1)[0].count)


def unknown_icon_cure(name: str, icons: Mapping[str, object] | Collection[str]) -> str:
    """Return the cure for a name that no icon has."""
    return did_you_mean(name, icons, "names follow the files: tide-low.svg is tide-low")
