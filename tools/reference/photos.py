#!/usr/bin/env python3
"""Makes crates/core/tests/data/square_up.json and the made-up photos in crates/formats/tests/data/photos/.

usage: pip install -r requirements.txt && ./photos.py

Homographies are OpenCV's (getPerspectiveTransform), on random quadrilaterals. `tilted.png` is a made-up panel of coloured squares seen
from the side, warped by OpenCV from `panel.png`; squared up again it must be the panel. `turned.jpg` is written by Pillow with an
EXIF orientation and a made-up place, to see both gone.
"""
import json, pathlib, random
from importlib.metadata import version
import cv2, numpy as np, piexif
from PIL import Image

HERE = pathlib.Path(__file__).resolve().parent
CORE = HERE / "../../crates/core/tests/data/square_up.json"
PHOTOS = HERE / "../../crates/formats/tests/data/photos"
PHOTOS.mkdir(parents=True, exist_ok=True)
random.seed(20261125)

cases = []
while len(cases) < 40:
    w, h = random.uniform(300, 9000), random.uniform(200, 2600)
    x0, y0 = random.uniform(-200, 4000), random.uniform(-100, 800)
    side = [(x0, y0), (x0 + w, y0), (x0 + w, y0 + h), (x0, y0 + h)]
    seen = [(200 + random.uniform(-150, 300), 150 + random.uniform(-100, 200)), (1800 + random.uniform(-500, 150), 150 + random.uniform(-100, 300)),
            (1800 + random.uniform(-500, 150), 1300 + random.uniform(-300, 100)), (200 + random.uniform(-150, 300), 1300 + random.uniform(-300, 100))]
    matrix = cv2.getPerspectiveTransform(np.float32(side), np.float32(seen))
    # Single precision going in: work out the same map in double precision from OpenCV's own points.
    exact = cv2.findHomography(np.float64(side), np.float64(seen), 0)[0]
    probes = [[x0 + random.uniform(-0.2, 1.2) * w, y0 + random.uniform(-0.2, 1.2) * h] for _ in range(5)]
    mapped = cv2.perspectiveTransform(np.float64([probes]), exact)[0].tolist()
    cases.append({"side": side, "seen": seen, "probes": probes, "mapped": mapped})
CORE.write_text(json.dumps({"made_by": {"opencv": version("opencv-python-headless")}, "cases": cases}, indent=1) + "\n")

# A panel of 16 x 8 squares in colours that differ, 20 px each.
panel = np.zeros((160, 320, 3), np.uint8)
for row in range(8):
    for column in range(16):
        panel[row * 20:row * 20 + 20, column * 20:column * 20 + 20] = [random.randrange(40, 220) for _ in range(3)]
cv2.imwrite(str(PHOTOS / "panel.png"), panel)
corners = np.float32([[70, 60], [430, 30], [410, 250], [50, 210]])
matrix = cv2.getPerspectiveTransform(np.float32([[0, 0], [320, 0], [320, 160], [0, 160]]), corners)
# OpenCV's pixels have their middles at whole numbers, ours at halves: shift by half a pixel on both sides.
half = np.float64([[1, 0, -0.5], [0, 1, -0.5], [0, 0, 1]])
tilted = cv2.warpPerspective(panel, half @ matrix @ np.linalg.inv(half), (480, 280), flags=cv2.INTER_CUBIC, borderValue=(90, 90, 90))
cv2.imwrite(str(PHOTOS / "tilted.png"), tilted)

# 60 x 40, red at the left and blue at the right as taken; to be turned by a quarter (EXIF orientation 6), with a place in it.
picture = np.zeros((40, 60, 3), np.uint8)
picture[:, :30] = (220, 40, 40)
picture[:, 30:] = (40, 40, 220)
place = {piexif.GPSIFD.GPSLatitudeRef: "N", piexif.GPSIFD.GPSLatitude: ((12, 1), (34, 1), (56, 1)),
         piexif.GPSIFD.GPSLongitudeRef: "E", piexif.GPSIFD.GPSLongitude: ((7, 1), (8, 1), (9, 1))}
exif = piexif.dump({"0th": {piexif.ImageIFD.Orientation: 6, piexif.ImageIFD.ImageDescription: b"made-up place"}, "GPS": place})
Image.fromarray(picture).save(PHOTOS / "turned.jpg", quality=95, subsampling=0, exif=exif)
