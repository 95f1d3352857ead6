"""Writes data/evidence/reference.json: the same equations on the same mesh, integrated by SciPy's BDF.

Independent of the crate: properties, enthalpy, fluxes and time integration are written again here from
the equations in crates/heat (Choi and Okos; finite volumes in enthalpy form). Needs numpy and
scipy; run `python3 make.py` after changing a case.

Also writes analytic.json: exact series for slab, cylinder and sphere, roots by SciPy (Carslaw and Jaeger,
Conduction of Heat in Solids, 2nd ed., sections 3.11, 7.7 and 9.4).
"""
import json
import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import brentq

LATENT, BOUND = 333.6e3, 0.4


def bulk(x, t, ice):
    """Density, conductivity (parallel), sensible heat capacity of a composition x at t with ice frozen."""
    w, p, f, c, fi, a = x
    cw = 4128.9 - 9.0864e-2 * t + 5.4731e-3 * t * t if t >= 0 else 4128.9 - 5.3062 * t + 0.99516 * t * t
    rows = [
        (p, 1329.9 - 0.5184 * t, 0.17881 + 1.1958e-3 * t - 2.7178e-6 * t**2, 2008.2 + 1.2089 * t - 1.3129e-3 * t**2),
        (f, 925.59 - 0.41757 * t, 0.18071 - 2.7604e-4 * t - 1.7749e-7 * t**2, 1984.2 + 1.4733 * t - 4.8008e-3 * t**2),
        (c, 1599.1 - 0.31046 * t, 0.20141 + 1.3874e-3 * t - 4.3312e-6 * t**2, 1548.8 + 1.9625 * t - 5.9399e-3 * t**2),
        (fi, 1311.5 - 0.36589 * t, 0.18331 + 1.2497e-3 * t - 3.1683e-6 * t**2, 1845.9 + 1.8306 * t - 4.6509e-3 * t**2),
        (a, 2423.8 - 0.28063 * t, 0.32962 + 1.4011e-3 * t - 2.9069e-6 * t**2, 1092.6 + 1.8896 * t - 3.6817e-3 * t**2),
        (w - ice, 997.18 + 3.1439e-3 * t - 3.7574e-3 * t**2, 0.57109 + 1.7625e-3 * t - 6.7036e-6 * t**2, cw),
        (ice, 916.89 - 0.13071 * t, 2.2196 - 6.2489e-3 * t + 1.0154e-4 * t**2, 2062.3 + 6.0769 * t),
    ]
    s = sum(r[0] for r in rows)
    v = sum(r[0] / r[1] for r in rows)
    return s / v, sum(r[2] * r[0] / r[1] for r in rows) / v, sum(r[3] * r[0] for r in rows) / s


class Material:
    """Temperature and conductivity over enthalpy, by dense interpolation."""

    def __init__(self, x, tf):
        fz = max(x[0] - BOUND * x[1], 0)
        ice = lambda t: 0.0 if t >= tf else fz * (1 - tf / t)
        cap = lambda t: bulk(x, t, ice(t))[0] * (bulk(x, t, ice(t))[2] + (-LATENT * fz * tf / t**2 if t < tf else 0.0))
        cold = tf + (-60 - tf) * np.linspace(1, 0, 6001) ** 2
        warm = np.linspace(tf, 160, 6001)[1:]
        self.t = np.concatenate([cold, warm])
        mid = 0.5 * (self.t[1:] + self.t[:-1])
        h = np.concatenate([[0], np.cumsum([cap(m) * d for m, d in zip(mid, np.diff(self.t))])])
        self.h = h - h[6000]
        self.k = np.array([bulk(x, t, ice(t))[1] for t in self.t])

    def temperature(self, h):
        return np.interp(h, self.h, self.t)

    def conductivity(self, h):
        return np.interp(h, self.h, self.k)

    def enthalpy(self, t):
        return np.interp(t, self.t, self.h)


def graded(radius, n):
    r = 5.0 ** (-1.0 / (n - 1))
    w = radius / ((1 - r**n) / (1 - r))
    faces = np.concatenate([[0], np.cumsum(w * r ** np.arange(n))])
    faces[-1] = radius
    return faces


def solve(case, rtol=1e-8, atol=50.0):
    p = {"slab": 0, "cylinder": 1, "sphere": 2}[case["shape"]]
    radius = case["thickness_mm"] / 2000
    layers = case["layers"]
    mats = [Material(l["composition"], l["freezing_c"]) for l in layers]
    if len(layers) == 1:
        faces = graded(radius, layers[0]["cells"])
        owner = np.zeros(layers[0]["cells"], int)
    else:
        total = sum(l["share"] for l in layers)
        faces, owner, inner = [0.0], [], 0.0
        for j, l in enumerate(layers):
            outer = inner + radius * l["share"] / total
            faces += [inner + (outer - inner) * i / l["cells"] for i in range(1, l["cells"] + 1)]
            owner += [j] * l["cells"]
            inner = outer
        faces, owner = np.array(faces), np.array(owner)
    area = faces**p if p else np.ones_like(faces)
    vol = np.diff(faces ** (p + 1)) / (p + 1)
    centre = 0.5 * (faces[1:] + faces[:-1])
    din, dout = centre - faces[:-1], faces[1:] - centre
    hc = case["surface_w_m2k"]
    times, temps = zip(*[(q["min"] * 60, q["c"]) for q in case["bath"]])
    bath = lambda t: np.interp(t, times, temps)

    def state(h):
        t, k = np.empty_like(h), np.empty_like(h)
        for j, m in enumerate(mats):
            s = owner == j
            t[s], k[s] = m.temperature(h[s]), m.conductivity(h[s])
        return t, k

    def rhs(time, h):
        t, k = state(h)
        g = area[1:-1] / (dout[:-1] / k[:-1] + din[1:] / k[1:])
        q = np.concatenate([[0], g * np.diff(t), [area[-1] / (1 / hc + dout[-1] / k[-1]) * (bath(time) - t[-1])]])
        return np.diff(q) / vol

    start = np.array([mats[j].enthalpy(case["start_c"]) for j in owner])
    n = len(start)
    band = np.abs(np.subtract.outer(np.arange(n), np.arange(n))) <= 1
    at = np.array(case["at_min"]) * 60.0
    sol = solve_ivp(rhs, (0, at[-1]), start, method="BDF", t_eval=at, rtol=rtol, atol=atol, jac_sparsity=band, max_step=120 if rtol < 1e-6 else np.inf)
    a, b = centre[0], centre[1]
    w = a * a / (b * b - a * a)
    cores = []
    for h in sol.y.T:
        t, _ = state(h)
        cores.append(round(float(t[0] + (t[0] - t[1]) * w), 4))
    return cores


BEEF = [0.7240, 0.1982, 0.0671, 0.0, 0.0, 0.0096]
YOLK = [0.5357, 0.1574, 0.2634, 0.033, 0.0, 0.0105]
WHITE = [0.8668, 0.1084, 0.0006, 0.0167, 0.0, 0.0075]


def one(x, tf, cells):
    return [{"composition": x, "freezing_c": tf, "share": 1.0, "cells": cells}]


CASES = [
    {"name": "strip steak, refrigerator", "shape": "slab", "thickness_mm": 25, "start_c": 5, "surface_w_m2k": 95,
     "bath": [{"min": 0, "c": 55}], "layers": one(BEEF, -1.7, 60), "at_min": [5, 10, 20, 40, 60, 90, 150]},
    {"name": "strip steak, frozen", "shape": "slab", "thickness_mm": 30, "start_c": -18, "surface_w_m2k": 95,
     "bath": [{"min": 0, "c": 55}], "layers": one(BEEF, -1.7, 60), "at_min": [10, 20, 30, 45, 60, 90, 150]},
    {"name": "loin as a cylinder in a bath that warms, holds and sags", "shape": "cylinder", "thickness_mm": 60, "start_c": 5,
     "surface_w_m2k": 50, "bath": [{"min": 0, "c": 30}, {"min": 40, "c": 57}, {"min": 120, "c": 57}, {"min": 180, "c": 52}],
     "layers": one(BEEF, -1.7, 60), "at_min": [10, 30, 60, 100, 150, 180, 240]},
    {"name": "egg, yolk in white", "shape": "sphere", "thickness_mm": 46.6, "start_c": 5, "surface_w_m2k": 400,
     "bath": [{"min": 0, "c": 63}],
     "layers": [{"composition": YOLK, "freezing_c": -0.6, "share": 0.72, "cells": 40}, {"composition": WHITE, "freezing_c": -0.6, "share": 0.28, "cells": 24}],
     "at_min": [4, 8, 12, 20, 30, 45]},
    {"name": "steak in a sheet of sauce", "shape": "slab", "thickness_mm": 40, "start_c": 4, "surface_w_m2k": 95,
     "bath": [{"min": 0, "c": 60}],
     "layers": [{"composition": BEEF, "freezing_c": -1.7, "share": 0.75, "cells": 40}, {"composition": [0.85, 0.02, 0.03, 0.09, 0.0, 0.01], "freezing_c": -0.8, "share": 0.25, "cells": 20}],
     "at_min": [10, 30, 60, 90, 120, 180]},
]

def series(p, bi, fo, x):
    """Unaccomplished temperature at relative radius x."""
    from scipy.special import j0, j1, jn_zeros

    total, n = 0.0, 400
    edges = np.concatenate([[0], jn_zeros(1, n)]) if p == 1 else np.arange(n + 1) * np.pi
    f = {
        0: lambda z: z * np.sin(z) - bi * np.cos(z),
        1: lambda z: z * j1(z) - bi * j0(z),
        2: lambda z: z * np.cos(z) - (1 - bi) * np.sin(z),
    }[p]
    for i in range(n):
        low, high = edges[i] + 1e-12, edges[i + 1] - 1e-12
        if p == 0:
            high = (i + 0.5) * np.pi
        if np.sign(f(low)) == np.sign(f(high)):
            continue
        z = brentq(f, low, high, xtol=1e-14)
        if p == 0:
            c, s = 4 * np.sin(z) / (2 * z + np.sin(2 * z)), np.cos(z * x)
        elif p == 1:
            c, s = 2 / z * j1(z) / (j0(z) ** 2 + j1(z) ** 2), j0(z * x)
        else:
            c = 4 * (np.sin(z) - z * np.cos(z)) / (2 * z - np.sin(2 * z))
            s = 1.0 if x == 0 else np.sin(z * x) / (z * x)
        total += c * np.exp(-z * z * fo) * s
        if np.exp(-z * z * fo) < 1e-14:
            break
    return float(total)


def analytic():
    """Exact centres and surfaces of a 30 mm piece, 5 to 60 °C, diffusivity 1.4e-7, conductivity 0.48."""
    rows = []
    for p, shape in enumerate(["slab", "cylinder", "sphere"]):
        for bi in [0.1, 1.0, 10.0, 100.0]:
            for fo in [0.02, 0.1, 0.5, 2.0]:
                c = {w: round(60 - 55 * series(p, bi, fo, x), 5) for w, x in [("centre_c", 0.0), ("surface_c", 1.0)]}
                rows.append({"shape": shape, "biot": bi, "fourier": fo, **c})
    return rows


if __name__ == "__main__":
    import os
    out = [dict(c, core_c=solve(c)) for c in CASES]
    here = os.path.dirname(os.path.abspath(__file__))
    where = os.path.join(here, "..", "..", "data", "evidence")
    with open(os.path.join(where, "reference.json"), "w") as f:
        json.dump({"made_by": "tests/reference/make.py: scipy.integrate.solve_ivp(method='BDF'), rtol 1e-8", "cases": out}, f, indent=1)
    with open(os.path.join(where, "analytic.json"), "w") as f:
        json.dump({"made_by": "tests/reference/make.py: exact series, roots by scipy.optimize.brentq", "points": analytic()}, f, indent=1)
    for c in out:
        print(c["name"], c["core_c"])
