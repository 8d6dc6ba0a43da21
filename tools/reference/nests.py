#!/usr/bin/env python3
"""Irregular pieces for the tests and the bench of layouts on rolls, with what a general irregular-nesting library makes of them.

Writes crates/core/tests/data/nests.json: a roll each, a gap, outlines in mm, and the length that the library (spyrrow, which wraps the sparrow
strip-packing heuristic) needs after so many seconds on one thread, in runs from different seeds. Rectangles that were cut up aslant have a known shortest length; the other half
are shapes as kits have them. All of it is made up.

    python3 tools/reference/nests.py SECONDS RUNS

Needs shapely and spyrrow (tools/reference/requirements.txt).
"""

import json
import math
import random
import sys
from pathlib import Path

import spyrrow
from shapely.geometry import LineString, Polygon, box
from shapely.ops import split

OUT = Path(__file__).resolve().parents[2] / "crates/core/tests/data/nests.json"


def cut_up(seed, count, across, along, gap):
    """A full rectangle in so many parts by straight cuts aslant, a kerf as wide as the gap lost at each."""
    dice = random.Random(seed)
    parts = [box(0, 0, along, across)]
    while len(parts) < count:
        parts.sort(key=lambda p: -p.area)
        part = parts.pop(0)
        x0, y0, x1, y1 = part.bounds
        middle = part.centroid
        x = middle.x + dice.uniform(-0.12, 0.12) * (x1 - x0)
        y = middle.y + dice.uniform(-0.12, 0.12) * (y1 - y0)
        angle = (math.pi / 2 if x1 - x0 > y1 - y0 else 0) + dice.uniform(-0.5, 0.5)
        dx, dy = 1e5 * math.cos(angle), 1e5 * math.sin(angle)
        parts += split(part, LineString([(x - dx, y - dy), (x + dx, y + dy)])).geoms
    return [part.buffer(-gap / 2, join_style=2) for part in parts]


def kit(seed, count):
    """Shapes as kits have them: angles, arrows, swooshes, wedges, rounds."""
    dice = random.Random(seed)
    shapes = []
    while len(shapes) < count:
        kind = dice.randrange(6)
        w, h = dice.uniform(150, 520), dice.uniform(120, 420)
        t = dice.uniform(0.3, 0.5)
        if kind == 0:
            corners = [(0, 0), (w, 0), (w, h * t), (w * t, h * t), (w * t, h), (0, h)]
        elif kind == 1:
            corners = [(0, 0), (w, h * 0.1), (w * 0.55, h), (w * 0.2, h * 0.8)]
        elif kind == 2:
            corners = [(0, 0), (w * 0.6, 0), (w, h / 2), (w * 0.6, h), (0, h), (w * 0.35, h / 2)]
        elif kind == 3:
            upper = [(w * i / 14, h * (i / 14) ** 2) for i in range(15)]
            lower = [
                (w * i / 14, h * (i / 14) ** 2 * 0.55 - h * 0.18 * math.sin(math.pi * i / 14))
                for i in range(13, 0, -1)
            ]
            corners = upper + lower
        elif kind == 4:
            corners = [(0, 0), (w, 0), (w * 0.5, h)]
        else:
            turn = [2 * math.pi * i / 18 for i in range(18)]
            corners = [(w / 2 + w / 2 * math.cos(a), h / 2 + h / 2 * math.sin(a)) for a in turn]
        shape = Polygon(corners)
        if shape.is_valid and shape.area > 8000:
            shapes.append(shape)
    return shapes


def outline(shape):
    x0, y0, _, _ = shape.bounds
    return [[round(x - x0, 2), round(y - y0, 2)] for x, y in list(shape.exterior.coords)[:-1]]


def by_the_library(parts, across, gap, seconds, seed):
    """Length that the library needs, mm; quarter turns allowed, the gap kept between pieces."""
    turns = [0.0, 90.0, 180.0, 270.0]
    items = [spyrrow.Item(str(n), [tuple(c) for c in p], 1, turns) for n, p in enumerate(parts)]
    config = spyrrow.StripPackingConfig(
        early_termination=False,
        total_computation_time=seconds,
        num_workers=1,
        seed=seed,
        min_items_separation=float(gap),
    )
    return spyrrow.StripPackingInstance("roll", across, items).solve(config).width


def main():
    seconds, runs = int(sys.argv[1]), int(sys.argv[2])
    cases = []
    sizes = [(8, 1370, 1600, 5), (12, 1370, 2000, 5), (16, 1220, 2200, 5)]
    sizes += [(20, 1370, 2600, 6), (24, 1370, 3000, 5), (24, 760, 3200, 4)]
    for n, (count, across, along, gap) in enumerate(sizes):
        parts = cut_up(100 + n, count, across + gap, along + gap, gap)
        cases.append((f"cut up, {count} on {across}", across, gap, along, parts))
    for n, (count, across) in enumerate(
        [(10, 1370), (14, 1370), (18, 760), (20, 1370), (24, 1370), (24, 1220)]
    ):
        cases.append((f"kit, {count} on {across}", across, 5, None, kit(200 + n, count)))
    told = []
    for name, across, gap, along, shapes in cases:
        parts = [outline(s) for s in shapes]
        lengths = [round(by_the_library(parts, across, gap, seconds, 3 + n), 1) for n in range(runs)]
        print(name, lengths, flush=True)
        told.append(
            {
                "name": name,
                "across_mm": across,
                "gap_mm": gap,
                "shortest_mm": along,
                "library": {"seconds": seconds, "lengths_mm": lengths},
                "parts": parts,
            }
        )
    lines = ",\n".join(json.dumps(t) for t in told)
    OUT.write_text(f"[\n{lines}\n]\n")


main()
