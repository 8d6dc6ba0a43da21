#!/usr/bin/env python3
"""Makes crates/core/tests/data/glyphs.json: glyph extents by fontTools and set lines by HarfBuzz, on the same font files.

usage: pip install -r requirements.txt && ./glyphs.py
Lengths are font units, y up, as those libraries give them.
"""
import json, pathlib
from importlib.metadata import version
from fontTools.pens.boundsPen import BoundsPen
from fontTools.ttLib import TTFont
import uharfbuzz as hb

HERE = pathlib.Path(__file__).resolve().parent
FONTS = HERE / "../../crates/core/fonts"
OUT = HERE / "../../crates/core/tests/data/glyphs.json"
LETTERS = "AHKOSTVWagjoxy&3"
LINES = ["TIDEWAY BOOKS", "AVATAR To Wave", "the library that comes to you", "Ternhaven Sign & Film", "555-0142"]


def extents(font, char):
    name = font.getBestCmap()[ord(char)]
    glyphs = font.getGlyphSet()
    pen = BoundsPen(glyphs)
    glyphs[name].draw(pen)
    return {"advance": glyphs[name].width, "bounds": pen.bounds}


def set_line(path, text, kerned):
    font = hb.Font(hb.Face(hb.Blob.from_file_path(str(path))))
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.direction = "ltr"
    buffer.guess_segment_properties()
    hb.shape(font, buffer, {"kern": kerned})
    x, pens = 0, []
    for info, pos in zip(buffer.glyph_infos, buffer.glyph_positions):
        pens.append([info.codepoint, x + pos.x_offset])
        x += pos.x_advance
    return {"text": text, "kerned": kerned, "advance": x, "glyphs": pens}


faces = []
for path in sorted(FONTS.glob("*.ttf")):
    font = TTFont(path)
    faces.append({
        "id": path.stem,
        "units_per_em": font["head"].unitsPerEm,
        "capital_height": extents(font, "H")["bounds"][3],
        "letters": {c: extents(font, c) for c in LETTERS},
        "lines": [set_line(path, t, k) for t in LINES for k in (True, False)],
    })
made_by = {p: version(p) for p in ("fonttools", "uharfbuzz")}
OUT.parent.mkdir(exist_ok=True)
OUT.write_text(json.dumps({"made_by": made_by, "faces": faces}, indent=1) + "\n")
