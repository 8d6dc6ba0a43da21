#!/usr/bin/env python3
"""Makes crates/formats/tests/data/drawings/: drawing files written by general libraries, and what those libraries measure in them.

usage: pip install -r requirements.txt && ./drawings.py

DXF files are written and flattened by ezdxf, SVG files are written here and flattened by svgelements; areas and extents are
shapely's. `exported.json` is what ezdxf finds in `exported.dxf`, a side that Windrift wrote (made by the test
`a_side_written_as_dxf_is_the_one_that_was_measured_elsewhere`; run it with WINDRIFT_WRITE_DXF=1 first).
"""
import json, math, pathlib
from importlib.metadata import version
import ezdxf
from ezdxf import path as dxfpath
from shapely.geometry import LineString, Polygon
from shapely.ops import polygonize, unary_union
from svgelements import SVG, Path

OUT = pathlib.Path(__file__).resolve().parent / "../../crates/formats/tests/data/drawings"
OUT.mkdir(parents=True, exist_ok=True)
figures = {"made_by": {n: version(n) for n in ("ezdxf", "svgelements", "shapely")}, "dxf": {}, "svg": {}}


def largest(lines):
    """The largest polygon that the lines close, in the file's own units."""
    # What lies within another shape is no hole in it.
    polygons = [Polygon(p.exterior) for p in polygonize(unary_union(lines))]
    return max(polygons, key=lambda p: p.area)


def told(polygon, mm):
    x0, y0, x1, y1 = polygon.bounds
    return {"area_mm2": polygon.area * mm * mm, "width_mm": (x1 - x0) * mm, "height_mm": (y1 - y0) * mm}


def dxf(name, units, mm, draw, dxfversion="R2010"):
    doc = ezdxf.new(dxfversion)
    doc.header["$INSUNITS"] = units
    draw(doc.modelspace())
    doc.saveas(OUT / name)
    lines = []
    for e in ezdxf.readfile(OUT / name).modelspace():
        if e.dxftype() in ("LINE", "LWPOLYLINE", "POLYLINE", "CIRCLE", "ARC", "ELLIPSE", "SPLINE"):
            points = [(round(v.x, 6), round(v.y, 6)) for v in dxfpath.make_path(e).flattening(0.001)]
            lines.append(LineString(points))
    figures["dxf"][name] = told(largest(lines), mm)


def box_of_lines(msp):
    # Four lines out of order and direction, a smaller closed shape, a word and a point.
    msp.add_line((0, 0), (0, 86))
    msp.add_line((288, 86), (0, 86))
    msp.add_line((288, 0), (288, 86))
    msp.add_line((0, 0), (288, 0))
    msp.add_polyline2d([(200, 20), (230, 20), (230, 50), (200, 50)], close=True)
    msp.add_text("REAR")
    msp.add_point((5, 5))


def van_of_arcs(msp):
    # Metres: a polyline with bulges for rounded corners.
    msp.add_lwpolyline([(0, 0, 0), (5.6, 0, 0.4142135623730951), (6, 0.4, 0), (6, 2.0, 0.2), (5.6, 2.4, 0), (1.6, 2.4, 0.15), (0, 1.1, 0)],
                       format="xyb", close=True)


def hull_of_splines(msp):
    # Millimetres: a spline for the sheer, lines and arcs for the rest.
    msp.add_open_spline([(0, 950), (1800, 640), (3600, 620), (5500, 730)])
    msp.add_line((5500, 730), (5400, 0))
    msp.add_line((5400, 0), (950, 0))
    msp.add_arc(center=(950, 950), radius=950, start_angle=180, end_angle=270)


def plate_of_ellipse(msp):
    msp.add_ellipse(center=(100, 50), major_axis=(80, 30), ratio=0.5)
    msp.add_circle((400, 400), 10)


def other_things(msp):
    # A word, a filling and a block beside the outline.
    msp.add_lwpolyline([(0, 0), (1000, 0), (1000, 500), (0, 500)], close=True)
    msp.add_mtext("Door")
    msp.add_hatch()
    msp.doc.blocks.new("HANDLE").add_line((0, 0), (10, 0))
    msp.add_blockref("HANDLE", (100, 100))


dxf("box-of-lines-inches.dxf", 1, 25.4, box_of_lines)
dxf("van-with-bulges-metres.dxf", 6, 1000.0, van_of_arcs)
dxf("hull-with-spline-mm.dxf", 4, 1.0, hull_of_splines)
dxf("ellipse-no-unit.dxf", 0, 1.0, plate_of_ellipse)
dxf("box-release-12.dxf", 0, 25.4, box_of_lines, "R12")
dxf("other-things-mm.dxf", 4, 1.0, other_things)

SVGS = {
    "door-mm.svg": '<svg xmlns="http://www.w3.org/2000/svg" width="1100mm" height="1700mm" viewBox="0 0 1100 1700"><g transform="translate(20 10) rotate(2)"><path d="M60 0 H900 C1000 0 1040 60 1040 160 V1500 Q1040 1600 940 1600 H60 A60 60 0 0 1 0 1540 V60 A60 60 0 0 1 60 0 Z"/></g><rect x="300" y="300" width="100" height="50"/></svg>',
    "panel-pixels.svg": '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 48 24"><polygon points="0,0 48,0 44,24 2,24"/><text x="5" y="5">A</text></svg>',
    "inch-view.svg": '<svg xmlns="http://www.w3.org/2000/svg" width="24in" height="12in" viewBox="0 0 240 120"><ellipse cx="120" cy="60" rx="110" ry="50"/></svg>',
}
MM = {"door-mm.svg": 25.4 / 96, "panel-pixels.svg": None, "inch-view.svg": 25.4 / 96}
for name, text in SVGS.items():
    (OUT / name).write_text(text + "\n")
    # svgelements scales everything to CSS pixels, 96 to the inch; without a size one unit is one pixel.
    shapes = [Path(e) for e in SVG.parse(str(OUT / name), ppi=96).elements() if hasattr(e, "segments") or e.__class__.__name__ in ("Rect", "Polygon", "Ellipse")]
    polygons = []
    for shape in shapes:
        points = []
        for segment in shape.segments():
            kind = segment.__class__.__name__
            steps = 1 if kind in ("Line", "Close") else 400
            if kind == "Move" or segment.end is None:
                continue
            points += [segment.point(n / steps) for n in range(steps + 1)]
        if len(points) > 2:
            polygons.append(Polygon([(p.x, p.y) for p in points]))
    figures["svg"][name] = told(max(polygons, key=lambda p: p.area), MM[name] or 1.0)

(OUT / "figures.json").write_text(json.dumps(figures, indent=1) + "\n")

exported = OUT / "exported.dxf"
if exported.exists():
    doc = ezdxf.readfile(exported)
    found = {"made_by": {"ezdxf": version("ezdxf"), "shapely": version("shapely")}, "units": doc.header.get("$INSUNITS"), "layers": {}}
    for e in doc.modelspace():
        layer = found["layers"].setdefault(e.dxf.layer, {"entities": 0, "area_mm2": 0.0, "x0": math.inf, "x1": -math.inf, "y0": math.inf, "y1": -math.inf})
        layer["entities"] += 1
        points = [(v.x, v.y) for v in dxfpath.make_path(e).flattening(0.001)]
        if len(points) > 2 and (e.dxftype() == "CIRCLE" or getattr(e, "is_closed", False)):
            layer["area_mm2"] += Polygon(points).area
        for x, y in points:
            layer["x0"], layer["x1"] = min(layer["x0"], x), max(layer["x1"], x)
            layer["y0"], layer["y1"] = min(layer["y0"], y), max(layer["y1"], y)
    auditor = doc.audit()
    found["errors"] = len(auditor.errors)
    (OUT / "exported.json").write_text(json.dumps(found, indent=1) + "\n")
