"""Layout tables of existing fonts without unreachable rules.

The library parses and serialises the tables. Entries of glyphs that are gone go, then subtables, lookups, features and
languages that are empty or unreachable. Source: OpenType, GSUB, GPOS, GDEF, common table formats.
"""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Iterator, Mapping, Sequence
from typing import Any

from oddpeg.font.read.glyphs import opened
from oddpeg.font.write.sfnt import Tables

LAYOUT_TABLES = ("GSUB", "GPOS", "GDEF")
LAYOUT_VERSIONS = (0x00010000, 0x00010001, 0x00010002, 0x00010003)
_CLASS_DEFINITIONS = ("GlyphClassDef", "MarkAttachClassDef")
_GLYPH_CLASSES = range(1, 5)  # base, ligature, mark, component
_RULE_SETS = ("SubRuleSet", "PosRuleSet", "ChainSubRuleSet", "ChainPosRuleSet")
_RULES = ("SubRule", "PosRule", "ChainSubRule", "ChainPosRule")
_CLASS_SETS = ("SubClassSet", "PosClassSet", "ChainSubClassSet", "ChainPosClassSet")
_CLASS_RULES = ("SubClassRule", "PosClassRule", "ChainSubClassRule", "ChainPosClassRule")
_RECORDS = ("SubstLookupRecord", "PosLookupRecord")
_CONTEXT_COVERAGES = ("BacktrackCoverage", "InputCoverage", "LookAheadCoverage")

Glyphs = Mapping[str, int]  # name → number


def pruned_layout(sfnt: bytes, kept: Collection[int], tags: Sequence[str] = LAYOUT_TABLES) -> Tables:
    """Return layout tables of a font for some of its glyphs, by their numbers; b"" for an empty one. Raise ValueError
    where one is damaged."""
    tables: Tables = {}
    with opened(sfnt, lazy=True) as font:
        order = font.getGlyphOrder()
        names = {order[number]: number for number in kept if number < len(order)}
        for tag in tags:
            if tag not in font:
                continue
            table = font[tag].table
            left = table.Version in LAYOUT_VERSIONS
            left = left and (_prune_glyph_classes(table, names) if tag == "GDEF" else _prune(table, names))
            tables[tag] = font[tag].compile(font) if left else b""
    return tables


def _prune(table: Any, kept: Glyphs) -> bool:
    """Remove unreachable rules from a GSUB or GPOS table; return whether any remain."""
    if not table.LookupList or not table.FeatureList or not table.ScriptList:
        return False
    lookups = table.LookupList.Lookup
    for lookup in lookups:
        lookup.SubTable = [sub for sub in lookup.SubTable if _prune_subtable(getattr(sub, "ExtSubTable", sub), kept)]
    full = {number for number, lookup in enumerate(lookups) if lookup.SubTable}
    reached = _reached(table, full)
    numbers = {old: new for new, old in enumerate(sorted(reached))}
    table.LookupList.Lookup = [lookups[old] for old in numbers]
    table.LookupList.LookupCount = len(numbers)
    for lookup in table.LookupList.Lookup:
        lookup.SubTableCount = len(lookup.SubTable)
        for records in _record_lists(lookup):
            records[:] = [record for record in records if record.LookupListIndex in numbers]
            for record in records:
                record.LookupListIndex = numbers[record.LookupListIndex]
    _renumber_features(table, numbers)
    return bool(table.LookupList.Lookup and table.FeatureList.FeatureRecord)


def _reached(table: Any, full: set[int]) -> set[int]:
    """Return the numbers of the lookups that features reach, directly or through other lookups. full: lookups with
    entries."""
    waiting = [number for feature in _features(table) for number in feature.LookupListIndex if number in full]
    reached = set(waiting)
    while waiting:
        lookup = table.LookupList.Lookup[waiting.pop()]
        nested = {record.LookupListIndex for records in _record_lists(lookup) for record in records}
        new = (nested & full) - reached
        reached |= new
        waiting += new
    return reached


def _features(table: Any) -> Iterator[Any]:
    for record in table.FeatureList.FeatureRecord:
        yield record.Feature
    for substitution in _feature_substitutions(table):
        for record in substitution.SubstitutionRecord:
            yield record.Feature


def _feature_substitutions(table: Any) -> Iterator[Any]:
    variations = getattr(table, "FeatureVariations", None)
    for record in variations.FeatureVariationRecord if variations else ():
        yield record.FeatureTableSubstitution


def _record_lists(lookup: Any) -> Iterator[list[Any]]:
    """Yield the lists of references to other lookups in the rules of a lookup."""
    for sub in lookup.SubTable:
        inner = getattr(sub, "ExtSubTable", sub)
        rules = [inner] if getattr(inner, "Format", 0) == 3 else []
        for sets, own in ((_RULE_SETS, _RULES), (_CLASS_SETS, _CLASS_RULES)):
            for rule_set in _lists(inner, sets):
                rules += _lists(rule_set, own) if rule_set is not None else []
        for rule in rules:
            for name in _RECORDS:
                if isinstance(getattr(rule, name, None), list):
                    yield getattr(rule, name)


def _lists(holder: Any, names: Sequence[str]) -> list[Any]:
    return next((getattr(holder, name) for name in names if getattr(holder, name, None) is not None), [])


def _renumber_features(table: Any, numbers: dict[int, int]) -> None:
    """Renumber the lookups of features; remove features without lookups, and renumber the rest. numbers: new by old."""
    for feature in _features(table):
        feature.LookupListIndex = [numbers[old] for old in feature.LookupListIndex if old in numbers]
        feature.LookupCount = len(feature.LookupListIndex)
    substituted = {r.FeatureIndex for s in _feature_substitutions(table) for r in s.SubstitutionRecord}
    records = table.FeatureList.FeatureRecord
    used = [n for n, r in enumerate(records) if r.Feature.LookupListIndex or n in substituted or r.FeatureTag == "size"]
    places = {old: new for new, old in enumerate(used)}
    table.FeatureList.FeatureRecord = [records[old] for old in used]
    table.FeatureList.FeatureCount = len(used)
    for substitution in _feature_substitutions(table):
        for record in substitution.SubstitutionRecord:
            record.FeatureIndex = places[record.FeatureIndex]
    table.ScriptList.ScriptRecord.sort(key=lambda record: record.ScriptTag)
    for script in table.ScriptList.ScriptRecord:
        script.Script.LangSysRecord.sort(key=lambda record: record.LangSysTag)
        languages = [record.LangSys for record in script.Script.LangSysRecord]
        for language in filter(None, [script.Script.DefaultLangSys, *languages]):
            language.FeatureIndex = list(dict.fromkeys(places[old] for old in language.FeatureIndex if old in places))
            language.FeatureCount = len(language.FeatureIndex)
            language.ReqFeatureIndex = places.get(language.ReqFeatureIndex, 0xFFFF)


def _prune_subtable(sub: Any, kept: Glyphs) -> bool:
    """Remove the entries of dropped glyphs; return whether any remain."""
    for attribute in ("mapping", "alternates", "ligatures"):
        if getattr(sub, attribute, None) is not None:
            return _prune_substitutions(sub, attribute, kept)
    prune = _BY_TYPE.get(type(sub).__name__)
    return prune(sub, kept) if prune else True


def _prune_substitutions(sub: Any, attribute: str, kept: Glyphs) -> bool:
    entries: dict[str, Any] = {}
    for name, out in getattr(sub, attribute).items():
        if name not in kept:
            continue
        if attribute == "ligatures":
            out = [one for one in out if one.LigGlyph in kept and all(part in kept for part in one.Component)]
        elif attribute == "alternates":
            out = [one for one in out if one in kept]
        elif not all(one in kept for one in ([out] if isinstance(out, str) else out)):
            continue  # of a component, which no text shows
        if out or attribute == "mapping":
            entries[name] = out
    setattr(sub, attribute, entries)
    return bool(entries)


def _cover(coverage: Any, kept: Glyphs, *columns: Any) -> tuple[list[Any], ...]:
    """Restrict a coverage to kept glyphs; return the matching entries of each column."""
    first = {name: number for number, name in reversed([*enumerate(coverage.glyphs)])}  # once, even in damaged fonts
    rows = [first[name] for name in sorted(first.keys() & kept.keys(), key=kept.__getitem__)]
    coverage.glyphs = [coverage.glyphs[number] for number in rows]
    return tuple([column[number] for number in rows] for column in columns)


def _prune_single_position(sub: Any, kept: Glyphs) -> bool:
    if sub.Format == 2:
        (sub.Value,) = _cover(sub.Coverage, kept, sub.Value)
        sub.ValueCount = len(sub.Value)
    else:
        _cover(sub.Coverage, kept)
    return bool(sub.Coverage.glyphs)


def _prune_pairs(sub: Any, kept: Glyphs) -> bool:
    if sub.Format == 1:
        (sub.PairSet,) = _cover(sub.Coverage, kept, sub.PairSet)
        for pairs in sub.PairSet:
            pairs.PairValueRecord = [pair for pair in pairs.PairValueRecord if pair.SecondGlyph in kept]
            pairs.PairValueCount = len(pairs.PairValueRecord)
        pairs_of = zip(sub.Coverage.glyphs, sub.PairSet, strict=True)
        some = {name: kept[name] for name, pairs in pairs_of if pairs.PairValueRecord}
        (sub.PairSet,) = _cover(sub.Coverage, some, sub.PairSet)
        sub.PairSetCount = len(sub.PairSet)
        return bool(sub.PairSet)
    _cover(sub.Coverage, kept)
    first, second = sub.ClassDef1.classDefs, sub.ClassDef2.classDefs
    rows = _used_classes({first.get(name, 0) for name in sub.Coverage.glyphs}, sub.Class1Count)
    columns = _used_classes({0, *(number for name, number in second.items() if name in kept)}, sub.Class2Count)
    covered = set(sub.Coverage.glyphs)
    sub.ClassDef1.classDefs = {n: rows[c] for n, c in first.items() if n in covered and rows.get(c)}
    sub.ClassDef2.classDefs = {n: columns[c] for n, c in second.items() if n in kept and columns.get(c)}
    sub.Class1Record = [sub.Class1Record[old] for old in rows]
    for record in sub.Class1Record:
        record.Class2Record = [record.Class2Record[old] for old in columns]
    sub.Class1Count, sub.Class2Count = len(rows), len(columns)
    return bool(covered)


def _used_classes(used: Iterable[int], count: int) -> dict[int, int]:
    """Return the new number of each used class."""
    return {old: new for new, old in enumerate(sorted(number for number in used if number < count))}


def _prune_cursive(sub: Any, kept: Glyphs) -> bool:
    (sub.EntryExitRecord,) = _cover(sub.Coverage, kept, sub.EntryExitRecord)
    sub.EntryExitCount = len(sub.EntryExitRecord)
    return bool(sub.EntryExitRecord)


def _prune_marks(mark: str, base: str, array: str, records: str) -> Callable[[Any, Glyphs], bool]:
    """Return the pruning function of one type of mark attachment.

    Args:
        mark: prefix of the attributes of attached marks.
        base: prefix of the attributes of their bases.
        array, records: attributes that hold the records of bases.
    """

    def prune(sub: Any, kept: Glyphs) -> bool:
        marks, bases = getattr(sub, f"{mark}Array"), getattr(sub, array)
        (marks.MarkRecord,) = _cover(getattr(sub, f"{mark}Coverage"), kept, marks.MarkRecord)
        (left,) = _cover(getattr(sub, f"{base}Coverage"), kept, getattr(bases, records))
        setattr(bases, records, left)
        anchors = [record.MarkAnchor for record in marks.MarkRecord]
        anchors += [a for row in left for a in getattr(row, f"{base}Anchor", ())]
        if any(anchor is not None and anchor.Format not in (1, 2, 3) for anchor in anchors):
            raise ValueError("it is no sound font (an anchor is damaged)")
        marks.MarkCount = len(marks.MarkRecord)
        setattr(bases, records.removesuffix("Record").removesuffix("Attach") + "Count", len(left))
        return bool(marks.MarkRecord and left)

    return prune


def _prune_context(sub: Any, kept: Glyphs) -> bool:
    if sub.Format == 3:
        coverages = sub.Coverage if isinstance(getattr(sub, "Coverage", None), list) else _context_coverages(sub)
        for coverage in coverages:
            _cover(coverage, kept)
        return all(coverage.glyphs for coverage in coverages)
    if sub.Format == 2:
        _cover(sub.Coverage, kept)
        _prune_class_rules(sub, kept)
        return bool(sub.Coverage.glyphs)
    name = next(name for name in _RULE_SETS if hasattr(sub, name))
    (sets,) = _cover(sub.Coverage, kept, getattr(sub, name))
    setattr(sub, name, sets)
    setattr(sub, f"{name}Count", len(sets))
    own = name.removesuffix("Set")
    for rule_set in sets:
        rules = [rule for rule in getattr(rule_set, own) if all(glyph in kept for glyph in _glyphs_of(rule))]
        setattr(rule_set, own, rules)
        setattr(rule_set, f"{own}Count", len(rules))
    return any(getattr(rule_set, own) for rule_set in sets)


def _prune_class_rules(sub: Any, kept: Glyphs) -> None:
    """Remove rules that need an empty class."""
    classes = {}
    for name, part in (("ClassDef", "Class"), ("BacktrackClassDef", "Backtrack"), ("InputClassDef", "Input"),
                       ("LookAheadClassDef", "LookAhead")):  # fmt: skip
        definition = getattr(sub, name, None)
        if definition is not None:
            definition.classDefs = {glyph: number for glyph, number in definition.classDefs.items() if glyph in kept}
            classes[part] = {0, *definition.classDefs.values()}
    for rule_set in _lists(sub, _CLASS_SETS):
        for own in _CLASS_RULES:
            if getattr(rule_set, own, None) is not None:
                rules = [rule for rule in getattr(rule_set, own) if _is_possible(rule, classes)]
                setattr(rule_set, own, rules)
                setattr(rule_set, f"{own}Count", len(rules))


def _is_possible(rule: Any, classes: dict[str, set[int]]) -> bool:
    return all(set(getattr(rule, part, None) or ()) <= known for part, known in classes.items())


def _glyphs_of(rule: Any) -> Iterator[str]:
    for part in ("Backtrack", "Input", "LookAhead"):
        yield from getattr(rule, part, None) or ()


def _context_coverages(sub: Any) -> list[Any]:
    return [coverage for name in _CONTEXT_COVERAGES for coverage in getattr(sub, name, None) or ()]


def _prune_reverse(sub: Any, kept: Glyphs) -> bool:
    pairs = zip(sub.Coverage.glyphs, sub.Substitute, strict=True)
    whole = {name: kept[name] for name, out in pairs if name in kept and out in kept}
    (sub.Substitute,) = _cover(sub.Coverage, whole, sub.Substitute)
    sub.GlyphCount = len(sub.Substitute)
    around = _context_coverages(sub)
    for coverage in around:
        _cover(coverage, kept)
    return bool(sub.Substitute) and all(coverage.glyphs for coverage in around)


_BY_TYPE: dict[str, Callable[[Any, Glyphs], bool]] = {
    "SinglePos": _prune_single_position,
    "PairPos": _prune_pairs,
    "CursivePos": _prune_cursive,
    "MarkBasePos": _prune_marks("Mark", "Base", "BaseArray", "BaseRecord"),
    "MarkLigPos": _prune_marks("Mark", "Ligature", "LigatureArray", "LigatureAttach"),
    "MarkMarkPos": _prune_marks("Mark1", "Mark2", "Mark2Array", "Mark2Record"),
    "ContextSubst": _prune_context,
    "ContextPos": _prune_context,
    "ChainContextSubst": _prune_context,
    "ChainContextPos": _prune_context,
    "ReverseChainSingleSubst": _prune_reverse,
}


def _prune_glyph_classes(table: Any, kept: Glyphs) -> bool:
    """Remove dropped glyphs from a GDEF table; return whether anything remains."""
    for name in _CLASS_DEFINITIONS:
        definition = getattr(table, name, None)
        if definition is not None:
            known = _GLYPH_CLASSES if name == "GlyphClassDef" else range(1, 0x10000)
            pairs = definition.classDefs.items()
            definition.classDefs = {glyph: number for glyph, number in pairs if glyph in kept and number in known}
            if not definition.classDefs:
                setattr(table, name, None)
    for name, points in (("AttachList", "AttachPoint"), ("LigCaretList", "LigGlyph")):
        place = getattr(table, name, None)
        if place is not None:
            (left,) = _cover(place.Coverage, kept, getattr(place, points))
            setattr(place, points, left)
            setattr(place, "GlyphCount" if name == "AttachList" else "LigGlyphCount", len(left))
            if not left:
                setattr(table, name, None)
    sets = getattr(table, "MarkGlyphSetsDef", None)
    for coverage in sets.Coverage if sets else ():
        if coverage is not None:
            _cover(coverage, kept)
    names = ("GlyphClassDef", "MarkAttachClassDef", "AttachList", "LigCaretList", "MarkGlyphSetsDef", "VarStore")
    return any(getattr(table, name, None) is not None for name in names)
