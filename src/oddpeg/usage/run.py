"""Which icons a project's own code refers to, and where."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Iterable, Sequence
from functools import partial
from pathlib import Path
from typing import NamedTuple

from oddpeg.config.loading import key_line
from oddpeg.diagnostics import Diagnostic, UsageError, counted
from oddpeg.iconset.model import Icon, IconSet
from oddpeg.iconset.selection import matches_any
from oddpeg.outputs.reference_search import Scanner
from oddpeg.outputs.references import Found, NameShape, Reference, ReferenceForm, merged, module_stem
from oddpeg.outputs.registry import KINDS
from oddpeg.parallel import map_batches
from oddpeg.progress import SILENT, Progress
from oddpeg.project.bundle_views import BundleView
from oddpeg.project.icon_sets import known_icons
from oddpeg.project.snapshot import Snapshot
from oddpeg.sources.code import PassedOver, list_files, read_source
from oddpeg.suggestions import Guesses
from oddpeg.usage.problem import Expected, Problem
from oddpeg.usage.problems import expected_of, find_problems
from oddpeg.usage.report import CodePosition, CodeProblem, UsageReport, WrongName

_BATCH = 1000  # files
_DATA = (".json", ".csv", ".tsv", ".txt")


FormKey = tuple[NameShape, str, frozenset[str]]


def _key(form: ReferenceForm) -> FormKey:
    return form.shape, form.lead, form.endings


class _SeenReference(NamedTuple):
    """A reference as it travels between processes: without the names of its form."""

    reference: Reference
    form: FormKey | None
    line: int
    column: int


class _Seen(NamedTuple):
    """The references in one file."""

    file: str
    passed: PassedOver | None
    references: Sequence[_SeenReference] = ()
    allowlisted: Sequence[str] = ()
    ours: bool = False
    typed: bool = False
    problems: Sequence[CodeProblem] = ()


class _Search(NamedTuple):
    """What files are searched for. expected: None for references only."""

    scanner: Scanner
    expected: Expected | None = None


def _see(search: _Search, root: Path, paths: Sequence[str]) -> list[_Seen]:
    return [_seen(search, root, path) for path in paths]


def _seen(search: _Search, root: Path, path: str) -> _Seen:
    text, passed = read_source(root, path)
    if passed:
        return _Seen(path, passed)
    scanner, where = search.scanner, os.path.relpath(path, root).replace(os.sep, "/")
    found = find_problems(search.expected, text, where) if search.expected else []
    problems = [_placed(problem, text, where) for problem in found]
    scan = scanner.scan(text, "." + path.rpartition(".")[2].lower(), data=path.endswith(_DATA))
    rows: list[_SeenReference] = []
    line, start, last = 1, 0, 0
    for reference in scan.references:  # in order, so that lines are counted once
        line += text.count("\n", last, reference.at)
        start, last = text.rfind("\n", 0, reference.at) + 1, reference.at
        rows.append(
            _SeenReference(
                reference._replace(form=None), reference.form and _key(reference.form), line, reference.at - start + 1
            )
        )
    return _Seen(path, None, rows, scan.allowlisted, scan.ours, scan.typed, problems)


def _placed(problem: Problem, text: str, file: str) -> CodeProblem:
    """Return a mistake with its line and column."""
    line, column = text.count("\n", 0, problem.at) + 1, problem.at - text.rfind("\n", 0, problem.at)
    written = text[problem.at : problem.at + problem.length]
    place = CodePosition(file, line, column, written, (problem.at, problem.length))
    return CodeProblem(problem.code, problem.what, place, problem.cure, problem.fix)


_Mark = tuple[int, int, int]  # a file's size, time and number


class _SeenBefore:
    """The references in files at the last run in this process: `watch` reads only changed files again."""

    def __init__(self) -> None:
        self._of = ""
        self._kept: dict[str, tuple[_Mark, _Seen]] = {}

    def all(self, search: _Search, root: Path, paths: Sequence[str], progress: Progress) -> list[_Seen]:
        """Return what every file has, in order. root: of the project."""
        scanner, expected = search
        right = expected._replace(names=frozenset(), codepoints=frozenset()) if expected else None
        forms = root, scanner.forms, scanner.codepoints, scanner.font_names, sorted(scanner.files)
        looked_for = forms, right, sorted(expected.names) if expected else ()
        of = hashlib.blake2b(repr(looked_for).encode(), digest_size=16).hexdigest()
        if of != self._of:
            self._of, self._kept = of, {}
        marks = {path: _mark_of(path) for path in paths}
        new = [path for path in paths if path not in self._kept or self._kept[path][0] != marks[path]]
        progress.begin(len(new))
        batches = map_batches(partial(_see, search, root), new, _BATCH, progress.advance)
        self._kept = {path: kept for path, kept in self._kept.items() if path in marks}
        self._kept |= {one.file: (marks[one.file], one) for batch in batches for one in batch}
        return [self._kept[path][1] for path in paths]


def _mark_of(path: str) -> _Mark:
    """Return a file's size, time and number, which change when it does."""
    try:
        status = Path(path).stat()
    except OSError:
        return 0, 0, 0
    return status.st_size, status.st_mtime_ns, status.st_ino


_seen_before, _typed_before = _SeenBefore(), _SeenBefore()


def reference_forms(snapshot: Snapshot, icons: IconSet) -> list[ReferenceForm]:
    """Return every way in which code may name an icon, as the bundles are configured."""
    forms: list[ReferenceForm] = []
    for bundle in snapshot.project.config.bundle.values():
        view = BundleView(snapshot, bundle, icons)
        for output in bundle.outputs:
            forms += KINDS[output.kind].references(icons, view.context(output))
    if snapshot.project.config.font.ligatures:
        names = {name.lower(): name for icon in icons.icons for name in icon.names}
        forms.append(ReferenceForm(NameShape.LIGATURE, icons.base_class, names))
    return merged(forms)


def find_usage(
    snapshot: Snapshot, places: Sequence[Path] = (), icons: IconSet | None = None, progress: Progress = SILENT
) -> UsageReport:
    """Return the references to icons in a project's code. places: files and folders, otherwise those in the config,
    otherwise the files that git knows, otherwise the whole folder. Raise `UsageError` where one does not exist, or
    lies elsewhere."""
    icons = icons or known_icons(snapshot)
    forms = reference_forms(snapshot, icons)
    font_names = icons.family, snapshot.project.naming.stem
    files = {path.rpartition("/")[2] for path in snapshot.delivered_paths}
    scanner = Scanner(forms, {icon.codepoint: icon.name for icon in icons.icons}, font_names, files)
    paths, vendored = list_files(snapshot.project.root, _places(snapshot, places), _not_code(snapshot))
    report, allowlisted = UsageReport(), set(snapshot.project.config.usage.keep)
    report.skipped.update({PassedOver.VENDORED: vendored} if vendored else {})
    names = {name: icon for icon in icons.icons for name in icon.names}
    guesses = _NearForms(forms)
    search = _Search(scanner, expected_of(snapshot, icons))
    everything = _seen_before.all(search, snapshot.project.root, paths, progress)
    report.files = sum(seen.passed is None for seen in everything)
    everything = [*everything, *_typed_through(scanner, snapshot.project.root, everything)]
    ours = any(seen.ours for seen in everything)
    for seen in everything:
        report.skipped.update([seen.passed] if seen.passed else [])
        allowlisted.update(seen.allowlisted)
        report.problems += seen.problems
        file = snapshot.project.relative(Path(seen.file)) if seen.references else ""
        for seen_reference in seen.references:
            reference = seen_reference.reference
            place = CodePosition(file, seen_reference.line, seen_reference.column, reference.text, reference.part)
            if seen_reference.form is None and not (ours or reference.sure):
                report.unattributed.append(place)
            else:
                _add(report, seen_reference, place, names, guesses)
    _sort(report, icons.icons, allowlisted)
    return report


def _typed_through(scanner: Scanner, root: Path, everything: Sequence[_Seen]) -> list[_Seen]:
    """Return the typed names in files that import a module of the project that imports typed names: a component takes
    them from its users."""
    typed = [form for form in scanner.forms if form.shape is NameShape.LITERAL]
    through = {module_stem(seen.file) for seen in everything if seen.typed} - {form.lead for form in typed} - {""}
    if not through:
        return []
    names = {word: name for form in typed for word, name in form.names.items()}
    forms = [ReferenceForm(NameShape.LITERAL, stem, names) for stem in sorted(through)]
    paths = [seen.file for seen in everything if seen.passed is None and not seen.typed]
    more = _typed_before.all(_Search(Scanner(forms, {}, (), scanner.files)), root, paths, SILENT)
    return [seen._replace(passed=None, ours=False) for seen in more if seen.references]


class _NearForms:
    """Near names, by the form that code used. Forms are looked up by their leads, since references from another process
    carry copies of them."""

    def __init__(self, forms: Iterable[ReferenceForm]) -> None:
        self._forms = {_key(form): form for form in forms}
        self._known: dict[FormKey, Guesses] = {}

    def nearest(self, key: FormKey, name: str, sure: bool) -> str:
        """Return the nearest right name as code writes it, or empty."""
        if key not in self._known:
            self._known[key] = Guesses(self._forms[key].names)
        cutoff = 0.7 if sure else 0.8  # what may be somebody's own has to be nearer
        return next(iter(self._known[key].nearest(name, 1, cutoff)), "")

    def now(self, key: FormKey, name: str) -> str:
        """Return how code writes an icon's own name."""
        names = self._forms[key].names if key in self._forms else {}  # of a module of the project: as icons are called
        return next((word for word, known in names.items() if known == name), name)


def _add(
    report: UsageReport,
    seen_reference: _SeenReference,
    place: CodePosition,
    names: dict[str, Icon],
    guesses: _NearForms,
) -> None:
    text, name, key = seen_reference.reference.found, seen_reference.reference.name, seen_reference.form
    if text is Found.USED:
        icon = names[name]
        report.used.setdefault(icon.name, []).append(place)
        if name in icon.older and key is not None:
            written = place.text[place.part[0] - seen_reference.reference.at :][: place.part[1]]
            older = WrongName(written, guesses.now(key, icon.name), place)
            report.older.setdefault(name, []).append(older)
    elif text is Found.UNDECIDABLE:
        report.undecidable.append(place)
    elif key and ((near := guesses.nearest(key, name, seen_reference.reference.sure)) or seen_reference.reference.sure):
        report.unknown.append(WrongName(name, near, place))


def _sort(report: UsageReport, icons: Sequence[Icon], allowlisted: Iterable[str]) -> None:
    report.used = dict(sorted(report.used.items(), key=lambda pair: (-len(pair[1]), pair[0])))
    rest = [icon for icon in icons if icon.name not in report.used]
    report.kept = [icon.name for icon in rest if matches_any(icon, allowlisted)]
    report.unused = [icon.name for icon in rest if icon.name not in set(report.kept)]
    report.unknown.sort(key=lambda reference: reference.place)
    report.undecidable.sort()


def _not_code(snapshot: Snapshot) -> frozenset[str]:
    """Return files of the project that are no code: delivered ones, the config, the pegboard."""
    project = snapshot.project
    return snapshot.delivered_paths | {project.relative(project.config_path), project.relative(project.board_path)}


def _places(snapshot: Snapshot, places: Sequence[Path]) -> list[Path]:
    """Return the files and folders to look in; raise `UsageError` with every one that cannot be."""
    project = snapshot.project
    allowed = (project.root, *project.also_read)
    named = {str(place): place.resolve() for place in places}
    configured = {name: (project.root / name).resolve() for name in project.config.usage.in_}
    errors = []
    for name, place in (named or configured).items():
        if not place.exists():
            message, cure = "does not exist", "correct the path"
        elif not named and not any(place.is_relative_to(folder.resolve()) for folder in allowed):
            message = f"leads out of the project, to {place}"
            cure = f"if that is meant, allow it on the command line: oddpeg --also-read {place} …"
        else:
            continue
        if named:
            errors.append(Diagnostic("usage-place", message, cure, name))
        else:
            line = key_line(project.config_path, "usage.in")
            errors.append(
                Diagnostic("usage-place", f"usage.in: {name} {message}", cure, project.config_path.name, line)
            )
    if errors:
        raise UsageError(*errors)
    return list((named or configured).values())


class UsedIcons(NamedTuple):
    """The icons that a project's code uses.

    Attributes:
        names: of the icons.
        messages: names that cannot be resolved, and the number of icons that bundles leave out.
    """

    names: frozenset[str]
    messages: list[Diagnostic]


def used_icons(snapshot: Snapshot, icons: IconSet) -> UsedIcons:
    """Return the icons that the project's code uses, for bundles that hold only those."""
    report = find_usage(snapshot, icons=icons)
    messages = [
        Diagnostic(
            "usage-undecidable",
            f"dynamic name, cannot be resolved: {place.text}",
            "name them in a comment next to it: oddpeg: uses NAME-*",
            place.file,
            place.line,
        )
        for place in report.undecidable
    ]
    where = ", ".join(f"bundle.{name}" for name in snapshot.project.config.bundles_of_used)
    message = f"{where}: {len(report.unused)} of {counted(len(icons.icons), 'icon')} omitted"
    cure = "`oddpeg usage` lists them; usage.keep in oddpeg.toml keeps what no search can see"
    messages.append(Diagnostic("only-used", f"{message}, which nothing in the code refers to", cure))
    return UsedIcons(report.needed(), messages)
