"""Best layouts of whole modules along a line by a general integer-programming solver (HiGHS through SciPy).

    env/bin/python tools/reference/conspicuity.py > crates/core/tests/data/conspicuity.json

For each made-up line the goals are asked one after the other, each as an integer programme of its own: fewest modules within the gap's limit,
fewest strips for that many, smallest largest gap, largest smallest gap. Strips are placed in free spans by binary choice.
"""

import json
import math
import random

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

SAME = 1e-6


def free_spans(ends, blocked, module):
    spans, at = [], ends[0]
    for a, b in sorted(blocked):
        spans.append((at, min(a, ends[1])))
        at = max(at, b)
    spans.append((at, ends[1]))
    return [(a, b) for a, b in spans if b - a >= module - SAME]


def solve(free, module, pieces, modules, least_modules, least_gap, most_gap, goal, seconds=None):
    """One programme for a number of strips. `modules` fixes their sum, or `least_modules` bounds it. The goal is `modules`, `most`
    (smallest largest gap) or `least` (largest smallest gap). Returns its value, or nothing where there is no layout. Where `seconds` are
    given and run out, raises `TimeoutError` with the bound that is proven."""
    spans = len(free)
    # Variables: start of each strip, modules of each, span of each, largest gap, smallest gap.
    start, count, span = 0, pieces, 2 * pieces
    biggest, smallest = span + pieces * spans, span + pieces * spans + 1
    n = smallest + 1
    whole = free[-1][1] - free[0][0]
    longest = max(int((b - a + SAME) // module) for a, b in free)
    lower, upper, kind = np.zeros(n), np.full(n, np.inf), np.zeros(n)
    lower[:pieces], upper[:pieces] = free[0][0], free[-1][1]
    lower[count:span], upper[count:span], kind[count:span] = 1, longest, 1
    upper[span:biggest], kind[span:biggest] = 1, 1
    upper[biggest], upper[smallest] = most_gap, whole
    lower[smallest] = least_gap
    rows, low, high = [], [], []

    def row(terms, a, b):
        line = np.zeros(n)
        for at, value in terms:
            line[at] += value
        rows.append(line)
        low.append(a)
        high.append(b)

    for j in range(pieces):
        choice = [(span + j * spans + f, 1.0) for f in range(spans)]
        row(choice, 1, 1)
        row([(start + j, 1.0)] + [(at, -free[f][0]) for f, (at, _) in enumerate(choice)], 0, np.inf)
        row([(start + j, 1.0), (count + j, module)] + [(at, -free[f][1]) for f, (at, _) in enumerate(choice)], -np.inf, 0)
    for j in range(pieces - 1):
        gap = [(start + j + 1, 1.0), (start + j, -1.0), (count + j, -module)]
        row(gap + [(biggest, -1.0)], -np.inf, 0)
        row(gap + [(smallest, -1.0)], 0, np.inf)
    row([(start, 1.0)], free[0][0], free[0][0])
    row([(start + pieces - 1, 1.0), (count + pieces - 1, module)], free[-1][1], free[-1][1])
    total = [(count + j, 1.0) for j in range(pieces)]
    row(total, *((modules, modules) if modules else (least_modules, np.inf)))
    cost = np.zeros(n)
    if goal == "modules":
        cost[count:span] = 1
    elif goal == "most":
        cost[biggest] = 1
    else:
        cost[smallest] = -1
    found = milp(cost, constraints=LinearConstraint(np.array(rows), low, high), bounds=Bounds(lower, upper), integrality=kind, options={"mip_rel_gap": 0} | ({"time_limit": seconds} if seconds else {}))
    if found.status == 1:
        raise TimeoutError(found.mip_dual_bound)
    return abs(found.fun) if found.success else None


def best(ends, blocked, module, least_film, limit):
    free = free_spans(ends, blocked, module)
    if not free:
        return None
    fits = sum(int((b - a + SAME) // module) for a, b in free)
    least = max(1, math.ceil((least_film - SAME) / module))
    if fits < least:
        return None
    by_pieces = {}
    for pieces in range(1, fits + 1):
        value = solve(free, module, pieces, None, max(least, pieces), 0.0, limit, "modules")
        if value is not None:
            by_pieces[pieces] = round(value)
    if not by_pieces:
        return None
    modules = min(by_pieces.values())
    pieces = min(p for p, n in by_pieces.items() if n == modules)
    if pieces == 1:
        return {"modules": modules, "pieces": 1, "largest": 0.0, "smallest": 0.0}
    largest = solve(free, module, pieces, modules, None, 0.0, limit, "most")
    smallest = solve(free, module, pieces, modules, None, 0.0, largest + 1e-5, "least")
    return {"modules": modules, "pieces": pieces, "largest": round(largest, 4), "smallest": round(smallest, 4)}


def main():
    random.seed(108)
    cases = []
    while len(cases) < 240:
        width = random.randrange(2000, 7000)
        module = random.choice([305, 457, 610])
        blocked = []
        for _ in range(random.randrange(0, 6)):
            at = random.randrange(0, width)
            blocked.append((at, at + random.choice([40, 120, 300, 700])))
        limit = random.choice([500, 800, 1200, 10_000])
        film = round(width * random.choice([0.0, 0.3, 0.5]))
        found = best((0, width), blocked, module, film, limit)
        if found is None:
            continue
        cases.append({"width": width, "module": module, "blocked": blocked, "limit": limit, "film": film, **found})
    lines = ",\n".join(json.dumps(c) for c in cases)
    print(f'{{"made_with": "scipy milp (HiGHS)", "cases": [\n{lines}\n]}}')


if __name__ == "__main__":
    main()
