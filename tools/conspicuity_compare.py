"""Best lines of whole modules beside a general integer-programming solver (HiGHS through SciPy), on the same large cases in one run.

    python -m venv env && env/bin/pip install -r tools/reference/requirements.txt
    env/bin/python tools/conspicuity_compare.py          # each case capped at 60 s
    env/bin/python tools/conspicuity_compare.py --cap 20

The solver is asked the same goals one after the other, as the reference table is made: for every number of strips the fewest modules, then
the smallest largest gap, then the largest smallest one. When its time is up, it says which programme it was at and what that had proven.
"""

import argparse
import json
import math
import random
import subprocess
import sys
import time
from pathlib import Path

sys.path.insert(0, str(Path(__file__).parent / "reference"))
from conspicuity import SAME, free_spans, solve  # noqa: E402


def cases():
    random.seed(53)
    found = []
    for feet, things, module in [(20, 8, 609.6), (28, 12, 609.6), (40, 16, 609.6), (53, 12, 609.6), (53, 30, 304.8), (53, 50, 304.8)]:
        width = feet * 304.8
        blocked = []
        for _ in range(things):
            at = random.uniform(0, width)
            blocked.append([at, at + random.uniform(20, 60)])
        found.append({"width": width, "module": module, "blocked": blocked, "limit": 1219.2, "film": width / 2})
    return found


def ours(given):
    command = ["cargo", "run", "--quiet", "--release", "-p", "windrift-core", "--example", "marking_lines"]
    answer = subprocess.run(command, input=json.dumps(given), check=True, capture_output=True, text=True)
    return json.loads(answer.stdout)


def solver(case, limit, cap):
    """Modules, strips, largest and smallest gap, or a sentence that says how far it came; and the seconds."""
    began = time.perf_counter()
    free = free_spans((0, case["width"]), case["blocked"], case["module"])
    module = case["module"]
    fits = sum(int((b - a + SAME) // module) for a, b in free)
    least = max(1, math.ceil((case["film"] - SAME) / module))

    def asked(pieces, modules, least_modules, least_gap, most_gap, goal):
        left = cap - (time.perf_counter() - began)
        if left <= 0:
            raise TimeoutError(None)
        return solve(free, module, pieces, modules, least_modules, least_gap, most_gap, goal, seconds=left)

    at = "fewest modules"
    try:
        by_pieces = {}
        for pieces in range(1, fits + 1):
            at = f"fewest modules, {pieces} of {fits} numbers of strips"
            value = asked(pieces, None, max(least, pieces), 0.0, limit, "modules")
            if value is not None:
                by_pieces[pieces] = round(value)
        modules = min(by_pieces.values())
        pieces = min(p for p, n in by_pieces.items() if n == modules)
        at = "smallest largest gap"
        largest = asked(pieces, modules, None, 0.0, limit, "most")
        at = "largest smallest gap"
        smallest = asked(pieces, modules, None, 0.0, largest + 1e-5, "least")
        return (modules, pieces, largest, smallest), time.perf_counter() - began
    except TimeoutError as stopped:
        bound = "" if stopped.args[0] is None else f", bound {stopped.args[0]:.1f}"
        return f"not finished: {at}{bound}", time.perf_counter() - began


def main():
    parser = argparse.ArgumentParser()
    parser.add_argument("--cap", type=float, default=60.0)
    cap = parser.parse_args().cap
    given = cases()
    print("| ft | things | module mm | modules | strips | gaps mm | ours, proven | solver |")
    print("|---|---|---|---|---|---|---|---|")
    for case, answer in zip(given, ours(given)):
        feet, things = f"{case['width'] / 304.8:.0f}", len(case["blocked"])
        if answer is None:
            print(f"| {feet} | {things} | no layout |")
            continue
        limit = max(case["limit"], answer["largest"] + 0.01)
        theirs, seconds = solver(case, limit, cap)
        if isinstance(theirs, tuple):
            mine = (answer["modules"], answer["pieces"], answer["largest"], answer["smallest"])
            assert all(abs(a - b) < 0.02 for a, b in zip(mine, theirs)), f"{mine} {theirs}"
            theirs = "the same"
        print(
            f"| {feet} | {things} | {case['module']:.0f} | {answer['modules']} | {answer['pieces']} | {answer['smallest']:.0f} to {answer['largest']:.0f} "
            f"| {answer['ms']:.1f} ms | {theirs} in {seconds:.1f} s |",
            flush=True,
        )


if __name__ == "__main__":
    main()
