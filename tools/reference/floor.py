"""Dew points, rates and warming of the floor stages by general libraries.

    env/bin/python tools/reference/floor.py > crates/core/tests/data/floor.json

Dew point: PsychroLib (Hyland and Wexler's saturation pressure, the basis of the published psychrometric tables), where it does not fall below 0.5 C.
Rates: the posterior of the mean of ln(time / amount) by numerical integration of prior times likelihood over mean and variance (SciPy), with no
conjugate formula. Doors: recoveries of the air fitted with SciPy's curve_fit. Warming: two masses by an adaptive solver (solve_ivp), readings with noise, fitted with SciPy's least_squares.
"""

import json
import math
import random

import numpy as np
import psychrolib
from scipy.integrate import solve_ivp
from scipy.interpolate import interp1d
from scipy.optimize import curve_fit, least_squares
from scipy.stats import beta
from scipy.special import gammaln

psychrolib.SetUnitSystem(psychrolib.SI)


def dew():
    rows = []
    for t in range(2, 41, 2):
        for rh in range(20, 101, 5):
            d = psychrolib.GetTDewPointFromRelHum(float(t), rh / 100)
            if d >= 0.5:
                rows.append([t, rh, round(d, 4)])
    return rows


def posterior(prior_seconds, seen):
    """Quantiles of seconds for one, by integration. seen: (ln rate, weight)."""
    m0, k0, a0, b0 = math.log(prior_seconds), 0.1225 / 0.36, 3.0, 0.1225 * 2.0
    mu = np.linspace(m0 - 9, m0 + 9, 6001)
    log_v = np.linspace(math.log(1e-4), math.log(60.0), 4001)
    v = np.exp(log_v)
    density = np.zeros_like(mu)
    # Inverse gamma of the variance, with the Jacobian of its logarithm.
    base = a0 * math.log(b0) - gammaln(a0) - (a0 + 1) * log_v - b0 / v + log_v
    squares = k0 * (mu - m0) ** 2
    for y, w in seen:
        squares = squares + w * (y - mu) ** 2
    n = len(seen)
    for i in range(len(mu)):
        ln = base - 0.5 * (n + 1) * log_v - 0.5 * squares[i] / v
        density[i] = np.trapezoid(np.exp(ln), log_v)
    cdf = np.concatenate([[0], np.cumsum((density[1:] + density[:-1]) / 2 * np.diff(mu))])
    cdf /= cdf[-1]
    at = interp1d(cdf, mu)
    return [float(math.exp(at(p))) for p in (0.1, 0.5, 0.9)]


def rates():
    rng = random.Random(11)
    rows = []
    for case in range(12):
        seconds = rng.choice([15, 60, 600])
        patches = []
        seen = []
        for _ in range(case % 5):
            amount = rng.uniform(1, 10)
            took = amount * seconds * math.exp(rng.gauss(0, 0.7))
            patches.append([round(took, 1), round(amount, 2)])
            seen.append((math.log(patches[-1][0] / patches[-1][1]), patches[-1][1] / 5.0))
        rows.append({"prior": seconds, "patches": patches, "seconds": posterior(seconds, seen)})
    return rows


def two(params, skin0, air, minutes):
    ts, tb, share = math.exp(params[0]), math.exp(params[1]), 1 / (1 + math.exp(-params[2]))

    def slope(_, s):
        skin, body = s
        return [(share * air + (1 - share) * body - skin) / ts, (air - body) / tb]

    found = solve_ivp(slope, (0, max(minutes) + 1e-9), [skin0, params[3]], t_eval=sorted(minutes), rtol=1e-8, atol=1e-8)
    return dict(zip(sorted(minutes), found.y[0]))


def warming():
    """Painted steel; prior as the rule has it. Fitted, and foretold two hours after the last reading."""
    rng = random.Random(5)
    rows = []
    for _ in range(12):
        first = rng.uniform(2, 10)
        air = rng.uniform(19, 24)
        prior = [math.log(8), math.log(150), math.log(0.7 / 0.3), first]
        spread = [0.5, 0.6, 0.6, 3.0]
        truth = [p + 0.7 * s * rng.gauss(0, 1) for p, s in zip(prior, spread)]
        minutes = [15.0 * (n + 1) for n in range(10)]
        exact = two(truth, first, air, minutes)
        read = [round(exact[m] + rng.gauss(0, 0.3), 2) for m in minutes]

        def residuals(x):
            told = two(x, first, air, minutes)
            return [(read[i] - told[m]) / 0.3 for i, m in enumerate(minutes)] + [
                (x[i] - prior[i]) / spread[i] for i in range(4)
            ]

        fit = least_squares(residuals, prior, xtol=1e-10, ftol=1e-10)
        ahead = two(fit.x, first, air, [minutes[-1] + 120])
        rows.append(
            {
                "first": first,
                "air": air,
                "minutes": minutes,
                "read": read,
                "after_two_hours": list(ahead.values())[0],
            }
        )
    return rows


def came_back():
    """Jeffreys' interval: the 5th and the 95th of a hundred of Beta(back + 1/2, all - back + 1/2)."""
    cases = [(0, 5), (1, 2), (1, 40), (3, 41), (12, 400), (40, 40), (199, 2000)]
    return [
        {
            "back": back,
            "all": every,
            "low": 0.0 if back == 0 else float(beta.ppf(0.05, back + 0.5, every - back + 0.5)),
            "high": 1.0 if back == every else float(beta.ppf(0.95, back + 0.5, every - back + 0.5)),
        }
        for back, every in cases
    ]


def doors():
    """A door opened for some minutes, read once a minute with noise; how soon the air came back, by SciPy's curve_fit with level, step and time free."""
    rng = random.Random(23)
    rows = []
    for _ in range(12):
        level, drop, minutes = rng.uniform(17, 23), rng.uniform(4, 12), rng.uniform(8, 40)
        open_for = rng.randint(2, 8)
        read = []
        for m in range(30 + open_for + 120):
            if m < 30:
                exact = level
            elif m < 30 + open_for:
                exact = level - drop * (m - 29) / open_for
            else:
                exact = level - drop * math.exp(-(m - 29 - open_for) / minutes)
            read.append(round(exact + rng.gauss(0, 0.1), 2))
        back = read[29 + open_for :]

        def curve(t, a, b, tau):
            return a - b * np.exp(-t / tau)

        found, _ = curve_fit(curve, np.arange(len(back)), back, p0=[level, drop, 20.0])
        rows.append({"read": read, "minutes": float(found[2])})
    return rows


print(json.dumps({"dew": dew(), "rates": rates(), "warming": warming(), "came_back": came_back(), "doors": doors()}))
