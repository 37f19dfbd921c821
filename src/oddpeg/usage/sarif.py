"""The problems in references as a log for code hosts and editors. Source: SARIF 2.1.0."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any, NamedTuple
from urllib.parse import quote

from oddpeg._version import __version__
from oddpeg.diagnostic_codes import CODES, Level
from oddpeg.usage.page.report import PageReport
from oddpeg.usage.report import UNDECIDABLE_CURE, UNKNOWN_CURE, CodePosition, UsageReport

_SCHEMA = "https://json.schemastore.org/sarif-2.1.0.json"


class _ResultKind(NamedTuple):
    """A kind of result (SARIF 2.1.0 §3.49). name, title, cure: for people; level: of its results."""

    id: str
    level: str
    name: str
    title: str
    cure: str

    def as_dict(self) -> dict[str, Any]:
        cure = f"{self.cure[0].upper()}{self.cure[1:]}."
        return {
            "id": self.id,
            "name": self.name,
            "shortDescription": {"text": f"{self.title}."},
            "fullDescription": {"text": f"{self.title}. {cure}"},
            "help": {"text": cure},
            "defaultConfiguration": {"level": self.level},
        }


_UNKNOWN = _ResultKind("unknown-icon", "error", "UnknownIcon", "Code names an icon that does not exist", UNKNOWN_CURE)
_UNDECIDABLE = _ResultKind(
    "undecidable-icon", "note", "UndecidableIcon", "A dynamic name cannot be resolved to an icon", UNDECIDABLE_CURE
)
_RULES = (_UNKNOWN, _UNDECIDABLE)


def _rule_of(code: str) -> _ResultKind:
    """Return the rule of a problem."""
    title = CODES[code].summary
    level = "error" if CODES[code].level is Level.ERROR else "warning"
    name = "".join(word.capitalize() for word in code.split("-"))
    return _ResultKind(code, level, name, title[0].upper() + title[1:], "see the documentation of diagnostics")


def sarif(report: UsageReport) -> str:
    """Return unknown names and undecidable places as a SARIF log."""
    results = [
        _result(
            _UNKNOWN,
            f"There is no icon {one.name!r}" + (f"; did you mean {one.nearest}?" if one.nearest else "."),
            one.place,
        )
        for one in report.unknown
    ]
    results += [_result(_UNDECIDABLE, f"{_UNDECIDABLE.title}.", place) for place in report.undecidable]
    rules = [*_RULES, *(_rule_of(code) for code in sorted({problem.code for problem in report.problems}))]
    by_code = {rule.id: rule for rule in rules}
    for problem in report.problems:
        text = f"{problem.text[0].upper()}{problem.text[1:]}. Cure: {problem.cure}."
        results.append(_result(by_code[problem.code], text, problem.place, rules))
    return _log(rules, results)


def page_sarif(report: PageReport) -> str:
    """Return the faults of a built page as a SARIF log; they have no lines, since scripts may have made the page."""
    rules = [_rule_of(code) for code in sorted({fault.code for fault in report.faults})]
    by_code = {rule.id: rule for rule in rules}
    is_file = "://" not in report.page
    file = {"uri": quote(report.page), "uriBaseId": "%SRCROOT%"} if is_file else {"uri": report.page}
    results = [
        {
            "ruleId": fault.code,
            "ruleIndex": rules.index(by_code[fault.code]),
            "level": by_code[fault.code].level,
            "message": {"text": f"{fault.selector}: {fault.text}. Cure: {fault.cure}."},
            "locations": [{"physicalLocation": {"artifactLocation": file}}],
        }
        for fault in report.faults
    ]
    return _log(rules, results)


def _log(rules: Sequence[_ResultKind], results: Sequence[dict[str, Any]]) -> str:
    driver = {"name": "Odd Peg", "version": __version__, "rules": [rule.as_dict() for rule in rules]}
    runs = [{"tool": {"driver": driver}, "columnKind": "unicodeCodePoints", "results": results}]
    return json.dumps({"$schema": _SCHEMA, "version": "2.1.0", "runs": runs}, indent=1) + "\n"


def _result(rule: _ResultKind, text: str, place: CodePosition, rules: Sequence[_ResultKind] = _RULES) -> dict[str, Any]:
    """Return one result; the file name becomes a part of a URI (§3.4.3)."""
    region = {"startLine": place.line, "startColumn": place.column}
    file = {"uri": quote(place.file), "uriBaseId": "%SRCROOT%"}
    return {
        "ruleId": rule.id,
        "ruleIndex": rules.index(rule),
        "level": rule.level,
        "message": {"text": text},
        "locations": [{"physicalLocation": {"artifactLocation": file, "region": region}}],
    }
