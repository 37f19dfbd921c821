"""The search for everything in a text that names an icon: plain searches for all leads, an expression from each on."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from typing import NamedTuple

from oddpeg.outputs.codepoint_search import find_codepoints, may_hold_codepoints
from oddpeg.outputs.reference_shapes import FOLLOW, judged
from oddpeg.outputs.references import Found, NameShape, Reference, ReferenceForm, merged, module_stem

_IMPORT = re.compile(
    r"""import\s{1,20}(?:type\s{1,20})?\{([^{}]{0,100000})\}\s{0,20}from\s{0,20}["']([^"'\n]{1,500})["']"""
)
_MODULE = re.compile(r"""\b(?:from|import|require)\s{0,20}\(?\s{0,20}["']([^"'\n]{1,500})["']""")
_LITERAL = re.compile(r"""(["'`])([^"'`\s]{1,200})\1""")
_PROMISE = re.compile(r"oddpeg:\s{0,9}uses\s{1,9}([^\n]{1,500})")
_PROMISE_END = re.compile(r"\*/|-->|#\}|%>|\*\)")
_WORD_CHARACTER = re.compile(r"[\w$-]")
_LONGEST_NAME = 255  # characters of a file
_FILE_NAME = re.compile(r"[\w.$@-]+")
_WORD = re.compile(r"\w+")


class Scan(NamedTuple):
    """The references to icons in a text.

    Attributes:
        references: in order.
        allowlisted: patterns of icons that comments say the code around them uses: `oddpeg: uses weather-*`.
        ours: it names the font, or an icon in another way than by codepoint.
        typed: it imports a module of typed names.
    """

    references: list[Reference]
    allowlisted: list[str]
    ours: bool
    typed: bool = False


_NOTHING = Scan([], [], ours=False)


class Scanner:
    """The search for all forms at once."""

    def __init__(
        self,
        forms: Iterable[ReferenceForm],
        codepoints: Mapping[int, str],
        font_names: Iterable[str] = (),
        files: Iterable[str] = (),
    ) -> None:
        """codepoints: the icon that each shows; font_names: of the family and its files, which tell that codepoints are
        ours; files: names of delivered files, which are no uses."""
        self.forms = merged(forms)
        self.codepoints = codepoints
        self.font_names = tuple(font_names)
        self.files = frozenset(files)
        self._forms: dict[str, list[ReferenceForm]] = {}
        self._imports: list[ReferenceForm] = []
        self._modules: list[ReferenceForm] = []
        for form in self.forms:
            if form.shape is NameShape.IMPORT:
                self._imports.append(form)
            elif form.shape is NameShape.LITERAL:
                self._modules.append(form)
            else:
                self._forms.setdefault(form.lead, []).append(form)
        # a lead that begins another one counts only where the longer does not stand
        self._longer = {lead: [o for o in self._forms if o != lead and o.startswith(lead)] for lead in self._forms}

    def scan(self, text: str, ending: str = "", data: bool = False) -> Scan:
        """Return the references to icons in a text.

        Args:
            ending: extension of its file, with the full stop.
            data: the text is a table, not code; then a codepoint counts only next to another reference.
        """
        leads = [lead for lead in self._forms if lead in text]
        modules = self._modules_in(text)
        codes, named = may_hold_codepoints(text), any(name in text for name in self.font_names)
        imports = bool(self._imports) and "import" in text
        if not (leads or modules or codes or named or imports or "oddpeg:" in text):
            return _NOTHING
        references = [*self._named(text, ending, leads), *(self._imported(text) if imports else ())]
        begun = {reference.part[0] for reference in references}
        references += [literal for literal in self._typed(text, modules) if literal.part[0] not in begun]
        ours = named or any(reference.sure or reference.found is not Found.UNKNOWN for reference in references)
        if codes and (ours or not data):
            references += find_codepoints(text, self.codepoints, ours)
        lists = (_PROMISE_END.split(match[1])[0].replace(",", " ") for match in _PROMISE.finditer(text))
        allowlisted = [pattern for patterns in lists for pattern in patterns.split()]
        unique = {(reference.at, reference.name): reference for reference in references}
        ordered = sorted(unique.values(), key=lambda reference: reference.at)
        return Scan(ordered, allowlisted, ours, bool(modules))

    def _counts(self, text: str, at: int, lead: str) -> bool:
        """Return whether a lead may name an icon where it stands: not within a word, a longer lead, or the name of a
        delivered file, unless it is such a name itself."""
        if not _begins(text, at, lead) or any(text.startswith(longer, at) for longer in self._longer[lead]):
            return False
        return "." in lead or not self._is_file(text, at)

    def _is_file(self, text: str, at: int) -> bool:
        """Return whether the word at a place is the name of a delivered file."""
        begin = at
        while begin and at - begin < _LONGEST_NAME and (text[begin - 1].isalnum() or text[begin - 1] in "_.$@-"):
            begin -= 1
        name = _FILE_NAME.match(text, begin)
        return name is not None and name[0] in self.files

    def _named(self, text: str, ending: str, leads: Iterable[str]) -> Iterator[Reference]:
        for lead in leads:
            looked = [form for form in self._forms[lead] if not (form.endings and ending) or ending in form.endings]
            at = text.find(lead) if looked else -1
            while at >= 0:
                if self._counts(text, at, lead):
                    for form in looked:
                        yield from FOLLOW[form.shape](form, text, at, at + len(lead))
                at = text.find(lead, at + 1)

    def _modules_in(self, text: str) -> list[ReferenceForm]:
        """Return the forms whose module the text imports: any text in it may be a typed name."""
        named = [form for form in self._modules if form.lead in text]
        if not named:
            return []
        paths = (match[1] for match in _MODULE.finditer(text))
        stems = {module_stem(path) for path in paths}
        return [form for form in named if form.lead in stems]

    def _typed(self, text: str, forms: Sequence[ReferenceForm]) -> Iterator[Reference]:
        for match in _LITERAL.finditer(text) if forms else ():
            for form in forms:
                if match[2] in form.names and not self._is_file(text, match.start(2)):
                    yield judged(form, match[2], text, match.start(2), match.start(2))

    def _imported(self, text: str) -> Iterator[Reference]:
        yield from self._single_modules(text)
        for match in _IMPORT.finditer(text):
            path = match[2].removesuffix(".mjs").removesuffix(".js").removesuffix("/index")
            for form in self._imports:
                if path.endswith(form.lead) and path.removesuffix(form.lead)[-1:] in ("", "/", ".", "@"):
                    for part in _WORD.finditer(text, match.start(1), match.end(1)):
                        before = text[match.start(1) : part.start()].rpartition(",")[2]
                        if before.strip() in ("", "type") and part[0] != "type":
                            yield judged(form, part[0], text, part.start(), part.start())

    def _single_modules(self, text: str) -> Iterator[Reference]:
        """Yield the icons whose own modules are imported, next to an index."""
        for match in _MODULE.finditer(text):
            folder, _, file = match[1].rpartition("/")
            stem = file.partition(".")[0]
            for form in self._imports:
                if folder.rpartition("/")[2] == form.lead and stem in form.names.values():
                    at = match.start(1) + len(folder) + 1
                    yield Reference(Found.USED, stem, match[1], match.start(1), (at, len(stem)), form)


def _begins(text: str, at: int, lead: str) -> bool:
    """Return whether a lead begins a word where it stands, or the name of a custom property after its hyphens."""
    if not at or not _WORD_CHARACTER.match(lead) or not _WORD_CHARACTER.match(text[at - 1]):
        return True
    return text.startswith("--", max(at - 2, 0))
