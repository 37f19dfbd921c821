"""Findings that compare faces: missing icons, different frames, weights that are hard to distinguish."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise

from oddpeg.checking.review import Reviewed, Rules
from oddpeg.diagnostics import Diagnostic
from oddpeg.iconset.faces import default_face
from oddpeg.project.project import Project

_APART = 50  # of the weight: programs that know hundreds alone round to them


def compare_faces(project: Project, reviews: Mapping[str, Reviewed], rules: Rules) -> None:
    """Add the findings to the drawings, and to the set of the first face. reviews: by the face that drawings are for;
    rules: the levels that the config gives."""
    first = default_face(project.faces, project.config.font.default).root
    varying = [plan for plan in project.faces if plan.varies]
    sizes = {part.root: plan.stands_for[0][0] for plan in varying for part in plan.parts if part.px}
    drawings = {face: {d.source.name: d for d in review.drawings} for face, review in reviews.items()}
    for face, reviewed in drawings.items():
        for name, drawing in reviewed.items():
            wide = drawing.examined.outline.advance if drawing.examined.outline else None
            usual = drawings[first].get(name)
            if usual and usual.examined.outline and wide not in (None, usual.examined.outline.advance):
                message = f"its frame is not as wide as that of {usual.source.where}, so pages shift where faces change"
                _add(rules, reviews[face], name, Diagnostic("face-frame", message, "draw both in the same frame"))
            if next(f for f in drawings if name in drawings[f]) != face:
                continue
            lacking = [other for other in drawings if other != face and name not in drawings[other]]
            if faces := [other for other in lacking if other not in sizes]:
                message = f"missing in {' and '.join(faces)}, where pages show it from the nearest face that has it"
                _add(rules, reviews[face], name, Diagnostic("face-gap", message, "draw it there too, if it is wanted"))
            if (lacks := [other for other in lacking if other in sizes]) and face not in sizes:
                message = f"has no drawing for {' and '.join(lacks)}, where the nearest one shows"
                _add(
                    rules,
                    reviews[face],
                    name,
                    Diagnostic("size-gap", message, "draw it for that size, if it is wanted"),
                )
            if face in sizes:
                message = f"is drawn for {face} only, so that no other size can show it"
                cure = f"draw it for {sizes[face]} too, or give the file the name of an icon that is"
                _add(rules, reviews[face], name, Diagnostic("size-alone", message, cure))
    weights = sorted((plan.weight, plan.name) for plan in project.faces if not plan.varies and not plan.taken_from)
    for (low, lighter), (high, other) in pairwise(weights):
        if high - low < _APART:
            message = (
                f"the weights of {lighter!r} and {other!r}, {low} and {high}, are too close for many programs to tell"
            )
            aside = next(iter(reviews.values())).set_findings
            aside.append(Diagnostic("face-weights", message, "set them at least 100 apart", f"face.{other}.weight"))


def _add(rules: Rules, review: Reviewed, name: str, diagnostic: Diagnostic) -> None:
    """Add a diagnostic to a drawing, at the level that the config gives it."""
    drawing = next(d for d in review.drawings if d.source.name == name)
    placed = diagnostic._replace(where=drawing.source.where)
    drawing.examined.diagnostics += rules.applied(name, [placed], review.silenced)
