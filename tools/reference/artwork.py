#!/usr/bin/env python3
"""Makes crates/core/tests/data/artwork.json: what Windrift's artwork is checked against.

usage: pip install -r requirements.txt && ./artwork.py
Set lines and tracking by HarfBuzz and fontTools; outlines, shadows, thinnest strokes and cleaned outlines by shapely; rigid fits by
numpy's singular value decomposition. Lengths are mm in the piece's own frame unless font units are said. Random points are seeded.
"""
import json, random
from importlib.metadata import version
import numpy as np
import uharfbuzz as hb
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
from shapely import affinity
from shapely.geometry import Polygon, MultiPolygon
from shapely.ops import polygonize, unary_union
from shapely.geometry import LineString
from letters import DATA, FONTS, film

random.seed(20261125)


def line_widths(face, lines, height, kerned):
    """Film width of each line and where each letter of the first begins, mm."""
    path = FONTS / f"{face}.ttf"
    font, shaper = TTFont(path), hb.Font(hb.Face(hb.Blob.from_file_path(str(path))))
    glyphs, order = font.getGlyphSet(), font.getGlyphOrder()

    def bounds(name):
        pen = BoundsPen(glyphs)
        glyphs[name].draw(pen)
        return pen.bounds

    scale = height / bounds(font.getBestCmap()[ord("H")])[3]
    widths, starts = [], []
    for n, text in enumerate(lines):
        buffer = hb.Buffer()
        buffer.add_str(text)
        buffer.direction = "ltr"
        buffer.guess_segment_properties()
        hb.shape(shaper, buffer, {"kern": kerned})
        x, left, right, own = 0, None, None, []
        for info, pos in zip(buffer.glyph_infos, buffer.glyph_positions):
            box = bounds(order[info.codepoint])
            if box:
                left = x + pos.x_offset + box[0] if left is None else left
                right = x + pos.x_offset + box[2]
                own.append((x + pos.x_offset + box[0] - left) * scale)
            x += pos.x_advance
        widths.append((right - left) * scale)
        starts = own if n == 0 else starts
    x_height = bounds(font.getBestCmap()[ord("x")])[3] * scale
    return {"typeface": face, "lines": lines, "capital_height_mm": height, "kerned": kerned, "widths": widths,
            "starts": starts, "x_height_mm": x_height}


def thinnest(shape):
    """Width at which an opening begins to eat the shape: a pen of that width no longer passes everywhere, or parts it. Found by halving."""
    def eats(width):
        pen = dict(join_style="mitre", mitre_limit=10)
        shrunk = shape.buffer(-width / 2, **pen)
        parts = lambda s: len(getattr(s, "geoms", [s]))
        return parts(shrunk) != parts(shape) or shrunk.buffer(width / 2, **pen).area < 0.999 * shape.area
    low, high = 0.0, 200.0
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (low, middle) if eats(middle) else (middle, high)
    return low


SETS = [line_widths(f, ls, h, k) for f, ls, h in [
    ("oswald", ["TERN BAY", "library"], 200.0), ("archivo-black", ["AVATAR"], 304.8), ("bitter", ["Ternhaven", "Sign & Film", "555-0142"], 101.6),
    ("barlow-condensed", ["HARBOUR", "BAY"], 76.2)] for k in (True, False)]

layers = []
for face, text, height, out, (right, down) in [
    ("archivo-black", "HAVEN", 200.0, 8.0, (12.0, 9.0)), ("oswald", "TERN", 150.0, 5.0, (-8.0, 6.0)),
    ("alfa-slab-one", "BQ8", 250.0, 14.0, (20.0, 20.0)), ("saira-stencil-one", "CREW", 120.0, 3.0, (6.0, -4.0)),
]:
    shape = film(face, text, height)
    rim = shape.buffer(out, join_style="mitre", mitre_limit=1 / np.sin(0.25))
    whole = unary_union([rim, affinity.translate(rim, right, down)])
    layers.append({"typeface": face, "text": text, "capital_height_mm": height, "out_mm": out, "shadow_mm": [right, down],
                   "face_area": shape.area, "outline_area": rim.area, "round_area": shape.buffer(out, quad_segs=64).area,
                   "whole_area": whole.area, "islands": len(getattr(whole, "geoms", [whole])),
                   "least_area": shape.buffer(out * 0.98).area})

strokes = [{"typeface": f, "text": t, "capital_height_mm": h, "stroke_mm": thinnest(film(f, t, h))}
           for f, t, h in [("archivo-black", "I", 300.0), ("barlow-condensed", "H", 200.0), ("oswald", "T", 200.0), ("oswald", "L", 150.0)]]

fits = []
for n in (2, 3, 4, 6, 8):
    for noise in (0.0, 1.0, 6.0):
        own = np.array([[random.uniform(0, 3000), random.uniform(0, 600)] for _ in range(n)])
        angle = random.uniform(-0.2, 0.2)
        turn = np.array([[np.cos(angle), -np.sin(angle)], [np.sin(angle), np.cos(angle)]])
        there = own @ turn.T + [random.uniform(500, 3000), random.uniform(200, 900)]
        there += np.array([[random.gauss(0, noise), random.gauss(0, noise)] for _ in range(n)])
        a, b = own - own.mean(0), there - there.mean(0)
        u, _, vt = np.linalg.svd(a.T @ b)
        fix = np.diag([1, np.sign(np.linalg.det(vt.T @ u.T))])
        r = vt.T @ fix @ u.T
        fitted = a @ r.T + there.mean(0)
        fits.append({"own": own.tolist(), "there": there.tolist(), "fitted": fitted.tolist(),
                     "off": np.linalg.norm(fitted - there, axis=1).tolist()})


def even_odd(rings):
    """What a drawing program fills: faces of the rings' network that lie within an odd number of rings."""
    network = unary_union([LineString(r + r[:1]) for r in rings])

    def inside(point, ring):
        (x, y), odd = point, False
        for (xa, ya), (xb, yb) in zip(ring, ring[1:] + ring[:1]):
            if (ya > y) != (yb > y) and x < (xb - xa) * (y - ya) / (yb - ya) + xa:
                odd = not odd
        return odd
    faces = [f for f in polygonize(network) if sum(inside(f.representative_point().coords[0], r) for r in rings) % 2]
    return unary_union(faces)


cleaned = []
for n in range(24):
    rings = [[(round(random.uniform(0, 400), 3), round(random.uniform(0, 300), 3)) for _ in range(random.randint(4, 9))]
             for _ in range(random.randint(1, 3))]
    cleaned.append({"outlines": rings, "area": even_odd(rings).area})

made_by = {p: version(p) for p in ("fonttools", "uharfbuzz", "shapely", "numpy")}
(DATA / "artwork.json").write_text(json.dumps({"made_by": made_by, "sets": SETS, "layers": layers, "strokes": strokes, "fits": fits,
                                               "cleaned": cleaned}, indent=1) + "\n")
