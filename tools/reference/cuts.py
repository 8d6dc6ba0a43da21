"""Orders of cuts from a roll with a repeating pattern by a general integer-programming solver (HiGHS through SciPy).

    env/bin/python tools/reference/cuts.py > crates/core/tests/data/cuts.json

Each cut begins and ends at a place of the pattern. A binary variable says that one cut follows another; the tape passed over between them is
the way round the pattern from where the one ends to where the other begins. One path goes through all of them (Miller, Tucker and Zemlin's
order variables keep it in one).
"""

import json
import random

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp


def least(cuts, module):
    """The least tape that any order passes over. Node 0 is the roll's beginning."""
    nodes = [(0, 0)] + cuts
    n = len(nodes)
    pairs = [(a, b) for a in range(n) for b in range(1, n) if a != b]
    cost = [(nodes[b][0] - nodes[a][1]) % module for a, b in pairs] + [0] * n
    rows, lows, highs = [], [], []

    def row(entries, low, high):
        line = np.zeros(len(pairs) + n)
        for at, value in entries:
            line[at] += value
        rows.append(line)
        lows.append(low)
        highs.append(high)

    for b in range(1, n):
        row([(k, 1) for k, p in enumerate(pairs) if p[1] == b], 1, 1)
    for a in range(n):
        row([(k, 1) for k, p in enumerate(pairs) if p[0] == a], 1 if a == 0 else 0, 1)
    for k, (a, b) in enumerate(pairs):
        # b comes after a where it follows it.
        row([(len(pairs) + b, 1), (len(pairs) + a, -1), (k, -n)], 1 - n, np.inf)
    found = milp(
        cost,
        integrality=[1] * len(pairs) + [0] * n,
        bounds=Bounds([0] * (len(pairs) + n), [1] * len(pairs) + [n - 1] * n),
        constraints=LinearConstraint(np.array(rows), lows, highs),
        options={"mip_rel_gap": 0},
    )
    assert found.status == 0, found.message
    return round(found.fun)


def main():
    rng = random.Random(2411)
    cases = []
    while len(cases) < 120:
        module = rng.choice([12, 24, 24, 60])
        kinds = [(rng.randrange(module), rng.randrange(module)) for _ in range(rng.randint(1, 8))]
        cuts = [rng.choice(kinds) for _ in range(rng.randint(2, 12))]
        cases.append({"module": module, "cuts": cuts, "least": least(cuts, module)})
    print(json.dumps({"solver": "HiGHS through SciPy 1.17.1", "cases": cases}, separators=(",", ":")))


main()
