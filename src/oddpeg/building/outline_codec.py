"""Outline results as bytes for the cache: one line of JSON, then the points of all outlines as plain arrays."""

from __future__ import annotations

import json
from typing import Any

import numpy as np

from oddpeg.diagnostics import Diagnostic
from oddpeg.geometry.matrix import Matrix
from oddpeg.outline.model import Method, Outline
from oddpeg.outline.pipeline import OutlineResult
from oddpeg.svg.layers import Fill
from oddpeg.svg.model import Colour, Gradient, Stop


def encode(result: OutlineResult) -> bytes:
    """Return a result as bytes."""
    outlines = list(result.outlines)
    index = [
        result.title,
        result.description,
        [d.as_dict() for d in result.diagnostics],
        result.problem.as_dict() if result.problem else None,
        [[len(o.on), len(o.ends), o.advance, o.cut, o.made.value] for o in outlines],
        [layer.fill for layer in result.layers],
    ]
    parts = [json.dumps(index, separators=(",", ":")).encode(), b"\n"]
    for outline in outlines:
        parts += [np.asarray(outline.xy, "<i4").tobytes(), np.asarray(outline.ends, "<i4").tobytes()]
        parts.append(np.asarray(outline.on, "u1").tobytes())
    return b"".join(parts)


def decode(data: bytes) -> OutlineResult:
    """Return the result that `encode` made bytes of."""
    line, _, _ = data.partition(b"\n")
    title, description, messages, problem, made, fills = json.loads(line)
    outlines, at = [], len(line) + 1
    for points, contours, advance, cut, how in made:
        xy = np.frombuffer(data, "<i4", 2 * points, at).astype(np.int64).reshape(-1, 2)
        ends = np.frombuffer(data, "<i4", contours, at + 8 * points).astype(np.int64)
        on = np.frombuffer(data, "u1", points, at + 8 * points + 4 * contours).astype(bool)
        outlines.append(Outline(xy, on, ends, advance, cut, Method(how)))
        at += 9 * points + 4 * contours
    diagnostics = [Diagnostic.from_dict(values) for values in messages]
    bare = OutlineResult(None, diagnostics, problem and Diagnostic.from_dict(problem), title, description)
    return bare.with_outlines(outlines, list(map(_fill, fills)), max(0, len(made) - 1 - len(fills)))


def _fill(values: list[Any]) -> Fill:
    """Return a layer's fill from JSON values."""
    colour, alpha, gradient, matrix = values
    if gradient is not None:
        radial, points, stops, spread, gradient_matrix, by_box = gradient
        stops = tuple(Stop(offset, c and Colour(*c), a) for offset, c, a in stops)
        gradient = Gradient(radial, tuple(points), stops, spread, Matrix(*gradient_matrix), by_box)
    return Fill(colour and Colour(*colour), alpha, gradient, Matrix(*matrix))
