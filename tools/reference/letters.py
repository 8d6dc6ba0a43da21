"""Lettering from the font files alone: set by HarfBuzz, drawn by fontTools, unioned by shapely. Shared by the scripts beside it."""
import pathlib
import uharfbuzz as hb
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.ttLib import TTFont
from shapely import affinity
from shapely.geometry import LinearRing
from shapely.ops import polygonize, unary_union

HERE = pathlib.Path(__file__).resolve().parent
FONTS = HERE / "../../crates/core/fonts"
DATA = HERE / "../../crates/core/tests/data"
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
