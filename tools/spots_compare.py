"""The search for a better spot beside a straightforward one on a general geometry library, on the same cases in one run.

    python -m venv env && env/bin/pip install -r tools/reference/requirements.txt
    env/bin/python tools/spots_compare.py            # every move of the window
    env/bin/python tools/spots_compare.py --every 8  # every eighth move in each direction, scaled up

The straightforward version moves the film to a spot and asks Shapely about everything near it: whether a head meets an edge of the
film or lies under it, which letters cross a seam, whether film comes nearer to hardware than its clearance. It uses Shapely's
spatial index, prepared shapes and vectorised calls. What both count is compared at every move that is tried.
"""

import argparse
import json
import subprocess
import time

import numpy as np
import shapely
from shapely import Polygon, affinity

CASES = [(150, 3.0), (300, 3.0), (600, 3.0), (1200, 3.0), (600, 1.0), (600, 2.0)]


def polygon(contours):
    return Polygon(contours[0], contours[1:])


def case(features, inches):
    """The case as core lays it out, with core's own answer."""
    command = ["cargo", "run", "--quiet", "--release", "-p", "windrift-core", "--example", "spots_case", "--"]
    answer = subprocess.run([*command, str(features), str(inches)], check=True, capture_output=True, text=True)
    return json.loads(answer.stdout)


class Side:
    """What is on the side, ready to be asked."""

    def __init__(self, given):
        heads = np.array(given["heads"])
        self.heads = shapely.points(heads[:, :2])
        self.radii = heads[:, 2]
        self.head_tree = shapely.STRtree(self.heads)
        self.lines = np.array([shapely.LineString(line) for line in given["lines"]])
        self.line_tree = shapely.STRtree(self.lines)
        self.hardware = np.array([polygon(h["outline"]) for h in given["hardware"]])
        self.clearances = np.array([h["clearance"] for h in given["hardware"]])
        self.hardware_tree = shapely.STRtree(self.hardware)
        self.letters = [shapely.MultiPolygon([polygon(s) for s in letter]) for letter in given["letters"]]

    def at(self, dx, dy):
        """hard, edge on, covered, crossed with the film moved by (dx, dy)."""
        letters = [affinity.translate(letter, dx, dy) for letter in self.letters]
        film = shapely.MultiPolygon([p for letter in letters for p in letter.geoms])
        rim = film.boundary
        shapely.prepare([film, rim])
        biggest = self.radii.max()
        near = self.head_tree.query(shapely.box(*film.bounds).buffer(biggest))
        edge_on = shapely.distance(self.heads[near], rim) < self.radii[near]
        covered = shapely.contains(film, self.heads[near]) & ~edge_on
        crossed = sum(int(shapely.intersects(letter, self.lines[self.line_tree.query(letter)]).sum()) for letter in letters)
        things = self.hardware_tree.query(film.envelope.buffer(self.clearances.max()))
        hard = shapely.distance(self.hardware[things], film) < self.clearances[things]
        return int(hard.sum()), int(edge_on.sum()), int(covered.sum()), crossed


def main():
    parser = argparse.ArgumentParser()
    parser.add_argument("--every", type=int, default=1)
    every = parser.parse_args().every
    print("| features | window | spots | Windrift | Shapely | times | counts that differ |")
    print("|---|---|---|---|---|---|---|")
    for features, inches in CASES:
        given = case(features, inches)
        columns, rows, step = given["columns"], given["rows"], given["step"]
        tried = differ = 0
        begun = time.perf_counter()
        side = Side(given)
        for row in range(0, rows, every):
            for column in range(0, columns, every):
                found = side.at((column - columns // 2) * step, (row - rows // 2) * step)
                hard, edge_on, covered, _, crossed = given["counts"][row * columns + column]
                tried += 1
                # Letters along a seam are counted by a rule of the trade that a geometry library does not have; crossings only grow by it.
                if found[:3] != (hard, edge_on, covered) or found[3] > crossed:
                    differ += 1
        spots = columns * rows
        seconds = (time.perf_counter() - begun) * spots / tried
        ours = given["seconds"]
        print(
            f"| {given['features']} | ±{inches:g} in | {spots} | {ours * 1000:.0f} ms | {seconds:.0f} s "
            f"| {seconds / ours:.0f} | {differ} of {tried} |",
            flush=True,
        )


if __name__ == "__main__":
    main()
