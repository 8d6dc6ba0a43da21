"""Best layouts of whole modules along a line by a general integer-programming solver (HiGHS through SciPy).

    env/bin/python tools/reference/conspicuity.py > crates/core/tests/data/conspicuity.json

Places lie on a grid of one inch. For each made-up line a binary variable says whether strip n, of so many modules, laid in one of the ways in
which its pattern can be cut, begins at a place. The goals are asked one after the other, each as a programme of its own with those before it
fixed: nearest ends, fewest strips within the gap's limit, smallest largest gap, largest smallest gap, least difference of strips, fewest heads
under an edge, fewest heads under the tape, least film, fewest strips turned round.
"""

import json
import math
import random

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp
from scipy.sparse import coo_matrix

STEP = 25.4
HALF = 12.7
EPS = 1e-6


def ways(pattern, modules):
    """Each way to cut so many modules once: off the roll, begun at another colour, turned round."""
    found = []
    for at in range(len(pattern)):
        runs = [pattern[(at + n) % len(pattern)] for n in range(len(pattern) * modules)]
        for way in (runs, runs[::-1]):
            if way not in found:
                found.append(way)
    return found


def may_lie(runs, start, blocked, ends):
    at = start
    for colour, length in runs:
        end = at + length
        if at < ends[0] - EPS or end > ends[1] + EPS:
            return False
        for a, b, but in blocked:
            if but != colour and at < b - EPS and end > a + EPS:
                return False
        at = end
    return True


def heads_of(heads, start, end):
    under = [h for h in heads if start - h["reach"] < h["at"] < end + h["reach"]]
    whole = [h for h in heads if h["whole"] is not None and start + h["whole"] <= h["at"] + EPS and h["at"] <= end - h["whole"] + EPS]
    return len(under) - len(whole), len(under)


class Line:
    def __init__(self, case):
        self.case = case
        pattern = [tuple(r) for r in case["pattern"]]
        self.module = sum(length for _, length in pattern)
        width = case["width"]
        self.options = []
        for modules in range(1, case["longest"] + 1):
            long = modules * self.module
            for n in range(int((width - long + EPS) // STEP) + 1):
                start = n * STEP
                for turned, runs in enumerate(ways(pattern, modules)):
                    if may_lie(runs, start, case["blocked"], (0, width)):
                        edges, under = heads_of(case["heads"], start, start + long)
                        self.options.append({"start": start, "end": start + long, "modules": modules, "edges": edges, "under": under, "turned": int(turned > 0)})
                        break

    def milp(self, strips, need, ends, limits, goal):
        """One programme. `limits`: gap from, gap to, shortest and longest strip, and sums that must not be passed. Value of the goal, or nothing."""
        options, width = self.options, self.case["width"]
        m = len(options)
        # x[n][o], then largest gap and smallest gap in steps of an inch, longest and shortest strip.
        big, small, longest, shortest = strips * m, strips * m + 1, strips * m + 2, strips * m + 3
        total = strips * m + 4
        lower, upper, kind = np.zeros(total), np.ones(total), np.ones(total)
        upper[big:] = 10_000
        lower[big], upper[big] = 0, limits["most"]
        lower[small] = limits["least"]
        for n in range(strips):
            for o, option in enumerate(options):
                first = n == 0 and math.floor(option["start"] / HALF + 1e-9) != ends[0]
                last = n == strips - 1 and math.floor((width - option["end"]) / HALF + 1e-9) != ends[1]
                if first or last:
                    upper[n * m + o] = 0
        rows, columns, values, low, high = [], [], [], [], []

        def row(terms, a, b):
            at = len(low)
            for column, value in terms:
                rows.append(at)
                columns.append(column)
                values.append(value)
            low.append(a)
            high.append(b)

        for n in range(strips):
            row([(n * m + o, 1.0) for o in range(m)], 1, 1)
            row([(n * m + o, float(options[o]["modules"])) for o in range(m)] + [(longest, -1.0)], -np.inf, 0)
            row([(n * m + o, float(options[o]["modules"])) for o in range(m)] + [(shortest, -1.0)], 0, np.inf)
        for n in range(strips - 1):
            gap = [((n + 1) * m + o, options[o]["start"]) for o in range(m)] + [(n * m + o, -options[o]["end"]) for o in range(m)]
            row(gap + [(big, -25.4)], -np.inf, 1e-4)
            row(gap + [(small, -25.4)], -1e-4, np.inf)
            row(gap, 0, self.case["most_gap"] + 1e-4)
        every = lambda key: [(n * m + o, float(options[o][key])) for n in range(strips) for o in range(m) if options[o][key]]
        row(every("modules"), need, np.inf)
        if limits.get("spread") is not None:
            row([(longest, 1.0), (shortest, -1.0)], -np.inf, limits["spread"])
        for key in ("edges", "under", "modules", "turned"):
            if key in limits:
                row(every(key), -np.inf, limits[key])
        cost = np.zeros(total)
        if goal == "most":
            cost[big] = 1
        elif goal == "least":
            cost[small] = -1
        elif goal == "spread":
            cost[longest], cost[shortest] = 1, -1
        elif goal != "any":
            for column, value in every(goal):
                cost[column] += value
        matrix = coo_matrix((values, (rows, columns)), shape=(len(low), total)).tocsr()
        found = milp(cost, constraints=LinearConstraint(matrix, low, high), bounds=Bounds(lower, upper), integrality=kind, options={"mip_rel_gap": 0, "time_limit": 40})
        if found.status == 1:
            raise TimeoutError
        return found.fun if found.success else None


def best(case):
    line = Line(case)
    if not line.options:
        return None
    width, module = case["width"], line.module
    need = max(1, math.ceil((case["film"] + case["spare"]) / module - 1e-9))
    # The nearest ends that any strip can have; cases in which the film does not fit between them are left out.
    ends = (min(math.floor(o["start"] / HALF + 1e-9) for o in line.options), min(math.floor((width - o["end"]) / HALF + 1e-9) for o in line.options))
    case["most_gap"] = case["limit"]
    free = {"most": 10_000, "least": 0}
    for strips in range(1, int(width / module) + 1):
        if strips * case["longest"] >= need and line.milp(strips, need, ends, free, "any") is not None:
            break
    else:
        return None
    if strips == 1:
        limits = dict(free)
    else:
        most = round(line.milp(strips, need, ends, free, "most"))
        limits = {"most": most, "least": 0}
        limits["least"] = round(-line.milp(strips, need, ends, limits, "least"))
        limits["spread"] = round(line.milp(strips, need, ends, limits, "spread"))
    for key in ("edges", "under", "modules", "turned"):
        limits[key] = round(line.milp(strips, need, ends, limits, key))
    return {
        "ends": list(ends), "strips": strips, "largest": 0 if strips == 1 else limits["most"], "smallest": 0 if strips == 1 else min(limits["least"], limits["most"]),
        "spread": limits.get("spread", 0), **{key: limits[key] for key in ("edges", "under", "modules", "turned")},
    }


def main():
    random.seed(108)
    cases = []
    while len(cases) < 240:
        pattern = random.choice([[("red", 304.8), ("white", 304.8)], [("red", 177.8), ("white", 279.4)], [("red", 152.4), ("white", 152.4)]])
        module = sum(length for _, length in pattern)
        width = STEP * random.randrange(70, 170)
        blocked = []
        for _ in range(random.randrange(0, 4)):
            at = STEP * random.randrange(0, int(width / STEP))
            long = STEP * random.randrange(2, 16)
            if random.random() < 0.5:
                # A red lamp: nothing on it, white three inches off.
                blocked += [(at, at + long, None), (at - 3 * STEP, at + long + 3 * STEP, "red")]
            else:
                blocked.append((at, at + long, None))
        # Red lamps at the ends, where strips may be turned.
        if random.random() < 0.5:
            blocked.append((-40.0, 2 * STEP, "red"))
        if random.random() < 0.5:
            blocked.append((width - 2 * STEP, width + 40.0, "red"))
        pitch, radius = random.choice([101.6, 152.4]), random.choice([4.0, 8.0])
        whole = radius if random.random() < 0.5 else None
        offset = random.uniform(0, pitch)
        heads = [{"at": round(offset + n * pitch, 3), "reach": radius, "whole": whole} for n in range(int(width / pitch))] if random.random() < 0.7 else []
        case = {
            "width": width, "pattern": pattern, "blocked": blocked, "heads": heads, "longest": random.choice([1, 2, 2, 3]),
            "film": round(width * random.choice([0.0, 0.3, 0.5])), "spare": random.choice([0.0, module]), "limit": random.choice([600.0, 1219.2, 10_000.0]),
        }
        try:
            found = best(case)
        except TimeoutError:
            continue
        if found is None:
            continue
        del case["most_gap"]
        cases.append({**case, **found})
    lines = ",\n".join(json.dumps(c) for c in cases)
    print(f'{{"made_with": "scipy milp (HiGHS)", "cases": [\n{lines}\n]}}')


if __name__ == "__main__":
    main()
