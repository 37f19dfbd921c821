"""What is known of icons besides their drawings: other names, tags, title, licence, credit.

From `icons.csv` beside the drawings, and from `[[rights]]` in the config for whatever the table leaves open. Knows:
both forms and their faults. Does not know: drawings' own titles, who shows the facts.
"""

from __future__ import annotations

import csv
import difflib
import io
import re
from collections.abc import Collection, Iterable
from dataclasses import dataclass, field
from fnmatch import fnmatchcase
from pathlib import Path
from typing import NamedTuple

from oddpeg.diagnostics import Diagnostic
from oddpeg.iconset.names import icon_name
from oddpeg.workspace.settings import Config
from oddpeg.workspace.sources import Source, fixed_part
from oddpeg.workspace.transaction import write_files

FILE = "icons.csv"
COLUMNS = ("icon", "aliases", "tags", "title", "licence", "credit")
_BETWEEN = re.compile(r"\s*[,;|]\s*")


class IconFacts(NamedTuple):
    """What is known of one icon. aliases: other names it may be called by; line: in `where`, a table."""

    aliases: tuple[str, ...] = ()
    tags: tuple[str, ...] = ()
    title: str = ""
    licence: str = ""
    credit: str = ""
    where: str = ""
    line: int | None = None


@dataclass(slots=True)
class FactBook:
    """Facts by icon; faults: (icon concerned or "", what is wrong with the tables or missing from them)."""

    icons: dict[str, IconFacts] = field(default_factory=dict)
    faults: list[tuple[str, Diagnostic]] = field(default_factory=list)

    def add(self, code: str, icon: str, what: str, cure: str, where: str, line: int | None = None) -> None:
        self.faults.append((icon, Diagnostic(code, what, cure, where, line)))

    def of(self, icon: str) -> IconFacts:
        """Return what is known of an icon."""
        return self.icons.get(icon, IconFacts())


def tables(config: Config) -> list[str]:
    """Return where tables may be: beside the drawings of every glob, relative to the project."""
    folders = dict.fromkeys(fixed_part(p.replace("\\", "/").removeprefix("./")) for p in config.icons.from_)
    return [f"{folder}/{FILE}".removeprefix("/") for folder in folders]


def rename_in_tables(root: Path, config: Config, old: str, new: str) -> list[str]:
    """Give an icon another name where a line begins with the old one; return the tables that were changed."""
    changed = []
    for where in tables(config):
        path = root / where
        if path.is_file():
            text = path.read_bytes().decode("utf-8", "surrogateescape")
            mended = re.sub(rf"(?m)^{re.escape(old)}(?=\s*[,;\t])", new, text)
            if mended != text:
                write_files({path: mended.encode("utf-8", "surrogateescape")}, root)
                changed.append(where)
    return changed


def load_facts(root: Path, config: Config, sources: list[Source], older: Collection[str]) -> FactBook:
    """Return everything known of the icons in `sources`. older: names that the pegboard keeps for icons renamed."""
    book = FactBook()
    for where in tables(config):
        try:
            text = (root / where).read_text(encoding="utf-8-sig")
        except FileNotFoundError:
            continue
        except (OSError, UnicodeDecodeError) as problem:
            book.add(
                "facts-unread",
                "",
                f"cannot be read: {problem}",
                "save it as UTF-8 text, and check the file's rights",
                where,
            )
            continue
        read_table(text, where, book)
    known = {s.name for s in sources}
    for name, facts in book.icons.items():
        if name not in known:
            near = difflib.get_close_matches(name, known, n=1)
            book.add(
                "facts-unknown",
                name,
                f"speaks of the icon {name!r}, and there is none",
                f"did you mean {near[0]!r}?" if near else "add its drawing, or delete the line",
                facts.where,
                facts.line,
            )
    _settle_aliases(book, known, older)
    _apply_rights(book, config, sources)
    return book


def read_table(text: str, where: str, book: FactBook) -> None:
    """Add what a table says to the book; the first line names its columns, in any order."""
    head = text.split("\n", 1)[0]
    delimiter = max(",;\t", key=head.count)  # spreadsheets write what their country is used to
    rows = csv.reader(io.StringIO(text), delimiter=delimiter)
    columns = [c.strip().lower() for c in next(rows, [])]
    for column in columns:
        if column and column not in COLUMNS:
            near = difflib.get_close_matches(column, COLUMNS, n=1, cutoff=0.5)
            book.add(
                "facts-column",
                "",
                f"has a column {column!r} that means nothing here; it was left out",
                f"did you mean {near[0]!r}?" if near else f"columns are: {', '.join(COLUMNS)}",
                where,
                1,
            )
    if "icon" not in columns:
        book.add(
            "facts-column",
            "",
            "has no column 'icon', so nothing in it can be told apart",
            f"let the first line be {','.join(COLUMNS)}",
            where,
            1,
        )
        return
    for row in rows:
        if any(cell.strip() for cell in row):
            _read_row(dict(zip(columns, (" ".join(c.split()) for c in row), strict=False)), where, rows.line_num, book)


def _read_row(cells: dict[str, str], where: str, line: int, book: FactBook) -> None:
    name = icon_name(cells.get("icon", ""))
    if not name:
        book.add(
            "facts-unknown", "", "has a line without an icon", "name the icon in it, or delete the line", where, line
        )
    elif name in book.icons:
        first = book.icons[name]
        book.add(
            "facts-twice",
            name,
            f"speaks of {name!r} a second time, after {first.where}:{first.line}; this line was left out",
            "put both lines together",
            where,
            line,
        )
    else:
        aliases = dict.fromkeys(icon_name(a) for a in _BETWEEN.split(cells.get("aliases", "")))
        tags = dict.fromkeys(t.lower() for t in _BETWEEN.split(cells.get("tags", "")))
        book.icons[name] = IconFacts(
            tuple(a for a in aliases if a and a != name),
            tuple(t for t in tags if t),
            cells.get("title", ""),
            cells.get("licence", ""),
            cells.get("credit", ""),
            where,
            line,
        )


def _settle_aliases(book: FactBook, known: set[str], older: Collection[str]) -> None:
    """Leave out aliases that something else is called."""
    holders: dict[str, str] = {}
    for name, facts in book.icons.items():
        kept = []
        for alias in facts.aliases if name in known else ():
            other = "an icon's own name" if alias in known else "the older name of an icon" if alias in older else ""
            other = other or (f"an alias of {holders[alias]!r} too" if alias in holders else "")
            if other:
                book.add(
                    "alias-clash",
                    name,
                    f"{name!r} cannot have the alias {alias!r}: it is {other}",
                    "choose another alias, or make it a tag",
                    facts.where,
                    facts.line,
                )
            else:
                holders[alias] = name
                kept.append(alias)
        book.icons[name] = _with(facts, aliases=tuple(kept))


def _apply_rights(book: FactBook, config: Config, sources: Iterable[Source]) -> None:
    """Fill in licence and credit by the config's rules, the last that fits first; note icons without a licence."""
    if not config.rights and config.icons.licences != "required":
        return
    for source in sources:
        facts = book.of(source.name)
        for rule in reversed(config.rights):
            if fnmatchcase(source.where, rule.files):
                facts = _with(facts, licence=facts.licence or rule.licence, credit=facts.credit or rule.credit)
        if config.icons.licences == "required" and not facts.licence:
            book.add(
                "no-licence",
                source.name,
                "has no licence, and the config asks for one",
                f"name it in {FILE}, or for its folder in [[rights]]",
                source.where,
            )
        if facts != IconFacts():
            book.icons[source.name] = facts


def _with(
    facts: IconFacts, aliases: tuple[str, ...] | None = None, licence: str | None = None, credit: str | None = None
) -> IconFacts:
    return IconFacts(
        facts.aliases if aliases is None else aliases,
        facts.tags,
        facts.title,
        facts.licence if licence is None else licence,
        facts.credit if credit is None else credit,
        facts.where,
        facts.line,
    )
