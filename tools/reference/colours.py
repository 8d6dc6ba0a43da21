#!/usr/bin/env python3
"""How far colours lie apart, CIEDE2000: the table of crates/core/tests/colours.rs.

    python3 tools/reference/colours.py

Needs scikit-image (tools/reference/requirements.txt).
"""

import numpy as np
from skimage.color import deltaE_ciede2000, rgb2lab

PAIRS = """
ff0000 8c1d18  ffffff f4f1e6  000000 1a1a1a  000000 ffffff  0000ff 23405c  ffd400 b8860b  008000 14524d
c0c0c0 f4f1e6  800080 5b3f7a  333333 1a1a1a  003366 23405c  7f7f80 80807f  00ffff ff00ff
""".split()


def lab(colour: str) -> np.ndarray:
    channels = [int(colour[n : n + 2], 16) / 255 for n in (0, 2, 4)]
    return rgb2lab(np.array([[channels]]))[0, 0]


for a, b in zip(PAIRS[::2], PAIRS[1::2]):
    print(f'    ("#{a}", "#{b}", {deltaE_ciede2000(lab(a), lab(b)):.4f}),')
