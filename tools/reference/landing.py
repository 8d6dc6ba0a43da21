#!/usr/bin/env python3
"""Makes crates/core/tests/data/landing.json: how rivet heads lie under lettering, worked out by shapely from the font files alone.

usage: pip install -r requirements.txt && ./landing.py
Every line is set by HarfBuzz, drawn by fontTools, flattened finely and unioned by shapely. Heads are discs; a head within
0.1 mm of changing its state is left out, so that the two ways of flattening curves cannot disagree. Lengths are mm in the
piece's own frame: x from the film's left end, y down from the cap line. Random places are seeded: the heads are made up.
"""
import json, random
from importlib.metadata import version
from shapely.geometry import Point, box
from letters import DATA, film

OUT = DATA / "landing.json"
CASES = [
    ("archivo-black", "TIDEWAY BOOKS", 304.8), ("barlow-condensed", "the library that comes to you", 152.4),
    ("alfa-slab-one", "BQ&8", 508.0), ("saira-stencil-one", "CREW 04", 254.0), ("bitter", "Ternhaven", 203.2),
    ("kaushan-script", "Saltmarsh", 220.0), ("pacifico", "library", 300.0), ("oswald", "555-0142", 180.0),
]

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
