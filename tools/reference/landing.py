#!/usr/bin/env python3
"""Makes crates/core/tests/data/landing.json: how rivet heads lie under lettering, worked out by shapely from the font files alone.

usage: pip install -r requirements.txt && ./landing.py
Every line is set by HarfBuzz, drawn by fontTools, flattened finely and unioned by shapely. Heads are discs; a head within
0.1 mm of changing its state is left out, so that the two ways of flattening curves cannot disagree. Lengths are mm in the
piece's own frame: x from the film's left end, y down from the cap line. Random places are seeded: the heads are made up.
"""
import json, pathlib, random
from importlib.metadata import version
import uharfbuzz as hb
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont
from shapely import affinity
from shapely.geometry import LinearRing, Point, box
from shapely.ops import polygonize, unary_union

HERE = pathlib.Path(__file__).resolve().parent
FONTS = HERE / "../../crates/core/fonts"
OUT = HERE / "../../crates/core/tests/data/landing.json"
CASES = [
    ("archivo-black", "TIDEWAY BOOKS", 304.8), ("barlow-condensed", "the library that comes to you", 152.4),
    ("alfa-slab-one", "BQ&8", 508.0), ("saira-stencil-one", "CREW 04", 254.0), ("bitter", "Ternhaven", 203.2),
    ("kaushan-script", "Saltmarsh", 220.0), ("pacifico", "library", 300.0), ("oswald", "555-0142", 180.0),
]
STEPS = 60


def curve(points):
    """Points along a Bezier curve of any degree, first left out."""
    for n in range(1, STEPS + 1):
        t, p = n / STEPS, [complex(*q) for q in points]
        while len(p) > 1:
            p = [a + (b - a) * t for a, b in zip(p, p[1:])]
        yield p[0].real, p[0].imag


def contours(font, name):
    glyphs = font.getGlyphSet()
    pen = DecomposingRecordingPen(glyphs)
    glyphs[name].draw(pen)
    out, run = [], []
    for op, args in pen.value:
        if op == "moveTo":
            run = [args[0]]
        elif op == "lineTo":
            run.append(args[0])
        elif op == "qCurveTo":
            points = list(args)
            if points[-1] is None:  # a contour of off-curve points only
                points = points[:-1]
                start = tuple((a + b) / 2 for a, b in zip(points[-1], points[0]))
                run, points = [start], points + [start]
            for i, off in enumerate(points[:-1]):
                last = i == len(points) - 2
                on = points[-1] if last else tuple((a + b) / 2 for a, b in zip(off, points[i + 1]))
                run.extend(curve([run[-1], off, on]))
        elif op == "curveTo":
            run.extend(curve([run[-1], *args]))
        elif op in ("closePath", "endPath") and len(run) > 2:
            out.append(run)
    return out


def winding(rings, x, y):
    """How often the rings run round a point."""
    turns = 0
    for ring in rings:
        for (xa, ya), (xb, yb) in zip(ring, ring[1:] + ring[:1]):
            side = (xb - xa) * (y - ya) - (x - xa) * (yb - ya)
            turns += (ya <= y < yb and side > 0) - (yb <= y < ya and side < 0)
    return turns


def winding_union(rings):
    """Non-zero union, as typefaces are drawn: every face of the rings' own network that they run round."""
    network = unary_union([LinearRing(r) for r in rings])
    faces = [f for f in polygonize(network) if winding(rings, *f.representative_point().coords[0])]
    return unary_union(faces)


def film(face, text, capital_height):
    path = FONTS / f"{face}.ttf"
    font, shaper = TTFont(path), hb.Font(hb.Face(hb.Blob.from_file_path(str(path))))
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.direction = "ltr"
    buffer.guess_segment_properties()
    hb.shape(shaper, buffer, {"kern": True})
    order, pen, parts = font.getGlyphOrder(), 0, []
    for info, pos in zip(buffer.glyph_infos, buffer.glyph_positions):
        rings = contours(font, order[info.codepoint])
        if rings:
            parts.append(affinity.translate(winding_union(rings), pen + pos.x_offset, pos.y_offset))
        pen += pos.x_advance
    whole = unary_union(parts)
    top = max(y for r in contours(font, font.getBestCmap()[ord("H")]) for _, y in r)
    scale = capital_height / top
    placed = affinity.translate(whole, -whole.bounds[0], -top)
    return affinity.scale(placed, scale, -scale, origin=(0, 0))


random.seed(20261124)
cases = []
for face, text, height in CASES:
    shape = film(face, text, height)
    x0, y0, x1, y1 = shape.bounds
    heads = []
    while len(heads) < 120:
        middle, radius = Point(random.uniform(x0 - 20, x1 + 20), random.uniform(y0 - 20, y1 + 20)), random.choice([3.0, 6.35, 9.5])
        to_edge = shape.boundary.distance(middle)
        if abs(to_edge - radius) < 0.1:
            continue
        state = "edge_on_it" if to_edge < radius else "covered" if shape.contains(middle) else "clear"
        heads.append([round(middle.x, 6), round(middle.y, 6), radius, state])
    doors = []
    for _ in range(12):
        a, b = random.uniform(x0 - 900, x1 + 900), random.uniform(y0 - 900, y1 + 900)
        door = box(a, b, a + random.uniform(20, 700), b + random.uniform(20, 700))
        doors.append([*map(lambda v: round(v, 6), door.bounds), shape.distance(door)])
    cases.append({"typeface": face, "text": text, "capital_height_mm": height, "bounds": [x0, y0, x1, y1],
                  "area_mm2": shape.area, "islands": len(getattr(shape, "geoms", [shape])), "heads": heads, "boxes": doors})
made_by = {p: version(p) for p in ("fonttools", "uharfbuzz", "shapely")}
OUT.write_text(json.dumps({"made_by": made_by, "cases": cases}, indent=1) + "\n")
