#!/usr/bin/env python3
"""An independent reading of the verdict table, for ten thousand random plans, traces and event lists.

Written from the project's specification of heat, kill, growth and verdicts (its sources: FDA Food Code 2022,
USDA FSIS Appendix A 2021, Baldwin 2012, Schuman 1997, FDA Bad Bug Book, Regulation (EC) 853/2004; all from
memory), not from the Rust code, which it shares nothing with: a finite-volume solver of its own (second-order
backward differences, uniform cells, constant properties; enthalpy method for frozen starts, with the ASHRAE polynomials),
clocks for every layer, the rows in their order.

    python3 scripts/reference/verdicts.py --count 10000 --seed 1 > lines.jsonl

Each line holds a request for `calc heat` (or a list of events), `level` as read here, and `mildest` and `strictest`:
the level read with every limit a little wider, and a little narrower, than stated (a minute, a twentieth of a log, a
tenth of a degree), because two solvers never agree to the last digit. What the program answers must never be milder
than `mildest`, nor, of a request, harder than `strictest` (crates/hold-steady/tests/reference.rs). Whole evenings with
their readings are in `evenings.py` beside this.
"""

import argparse
import json
import random
import sys

import numpy as np

# Food: its class, organisms, shape, what sets it apart. Written down here anew, not read from the data.
FOODS = {
    "beef-strip": ("beef", "red", "slab", ()), "beef-ribeye": ("beef", "red", "slab", ()),
    "beef-flank": ("beef", "red", "slab", ()), "beef-roast": ("beef", "red", "slab", ("roast",)),
    "lamb-rack": ("lamb", "red", "slab", ()), "veal-chop": ("beef", "red", "slab", ()),
    "pork-chop": ("pork", "red", "slab", ()), "pork-tenderloin": ("pork", "red", "cylinder", ()),
    "venison": ("pork", "red", "slab", ("wild",)), "burger": ("ground", "red", "slab", ()),
    "corned-beef": ("ground", "red", "slab", ()), "sausage": ("ground", "red", "cylinder", ()),
    "poultry-sausage": ("ground", "poultry", "cylinder", ()), "liver-pate": ("ground", "poultry", "cylinder", ()),
    "chicken-breast": ("poultry", "poultry", "slab", ()), "chicken-thigh": ("poultry", "poultry", "slab", ()),
    "duck-breast": ("duck", "poultry", "slab", ()), "salmon-fillet": ("fish", "fatty", "slab", ("farmed",)),
    "mackerel-fillet": ("fish", "fatty", "slab", ("histamine",)), "cod-fillet": ("fish", "lean", "slab", ()),
    "tuna-steak": ("fish", "lean", "slab", ("histamine", "thunnus")),
    "prawn": ("crustacean", "lean", "cylinder", ()), "lobster-tail": ("crustacean", "lean", "cylinder", ()),
    "scallop": ("crustacean", "lean", "slab", ("scallop",)), "mussel": ("bivalve", "lean", "slab", ()),
    "shell-egg-large": ("egg", "egg", "sphere", ()), "egg-custard": ("mixture", "other", "cylinder", ()),
    "yogurt": ("ferment", "other", "cylinder", ()), "carrot": ("plant", "other", "cylinder", ()),
    "potato": ("plant", "other", "sphere", ()), "kidney-bean": ("phaseolus", "other", "sphere", ()),
    "white-bean": ("phaseolus", "other", "sphere", ()), "chickpea": ("plant", "other", "sphere", ()),
}
# target (at risk), D in minutes at a temperature, z.
ORGANISMS = {
    "red": [(6.5, 6.5, 13.18, 55.0, 6.45), (6, 6, 12.66, 55.0, 9.22), (5, 5, 19.35, 55.0, 4.87)],
    "poultry": [(7, 7, 4.68, 60.0, 6.45), (6, 6, 5.94, 60.0, 5.66)],
    "lean": [(6, 6, 2.88, 60.0, 5.68)], "fatty": [(6, 6, 5.13, 60.0, 5.59)],
    "egg": [(5, 7, None, None, 4.3)], "other": [(6, 6, 0.33, 70.0, 7.5)],
}
ROAST_F = [(130, 112), (131, 89), (133, 56), (135, 36), (136, 28), (138, 18), (140, 12), (142, 8), (144, 5),
           (145, 4), (147, 134 / 60), (149, 85 / 60), (151, 54 / 60), (153, 34 / 60), (155, 22 / 60), (157, 14 / 60)]
ALL_AT_ONCE_C = 70.0
ALPHA, K = 1.4e-7, 0.48
DT = 30.0
CELLS = 24
COUNTS = {"pasteurized": 0, "exempt": 0, "serve-now": 1, "refused": 2}


def d_minutes(organism, t):
    _, _, d, ref, z = organism
    if d is not None:
        return d * 10 ** ((ref - t) / z)
    low = 6.0 * 10 ** ((57 - t) / z)
    between = 6.0 * (4.5 / 6.0) ** (t - 57)
    return np.where(t <= 57, low, np.where(t <= 58, between, 4.5 * 10 ** ((58 - t) / z)))


def table_minutes(t):
    """Minutes the roast table asks for, log-linear between rows, half a kelvin on below the first."""
    c = np.array([(f - 32) / 1.8 for f, _ in ROAST_F])
    logs = np.log(np.array([m for _, m in ROAST_F]))
    first = (logs[1] - logs[0]) / (c[1] - c[0])
    value = np.where(t < c[0], logs[0] + first * (t - c[0]), np.interp(t, c, logs))
    return np.where(t >= ALL_AT_ONCE_C, 1e-6, np.where(t < c[0] - 0.5, np.inf, np.exp(value)))


# --- heat ------------------------------------------------------------------------------------------------------

def meshes(p, radius):
    """Face areas and cell volumes for slab, cylinder, sphere (p = 0, 1, 2); one row a piece."""
    x = np.linspace(0, 1, CELLS + 1)[None, :] * radius[:, None]
    pp = p[:, None]
    return x ** pp, (x[:, 1:] ** (pp + 1) - x[:, :-1] ** (pp + 1)) / (pp + 1)


def thomas(lower, diagonal, upper, right):
    n = diagonal.shape[1]
    c, d = np.empty_like(upper), np.empty_like(right)
    c[:, 0], d[:, 0] = upper[:, 0] / diagonal[:, 0], right[:, 0] / diagonal[:, 0]
    for i in range(1, n):
        m = diagonal[:, i] - lower[:, i] * c[:, i - 1]
        c[:, i] = upper[:, i] / m
        d[:, i] = (right[:, i] - lower[:, i] * d[:, i - 1]) / m
    out = np.empty_like(right)
    out[:, -1] = d[:, -1]
    for i in range(n - 2, -1, -1):
        out[:, i] = d[:, i] - c[:, i] * out[:, i + 1]
    return out


def baths_on_grid(traces, until):
    """The bath at the end and in the middle of every step, one row a piece."""
    steps = int(np.ceil(until.max() * 60 / DT)) + 1
    ends = (np.arange(steps) + 1) * DT / 60
    at = lambda minutes: np.array([np.interp(minutes, t[0], t[1]) for t in traces], dtype=np.float32)
    return at(ends), at(ends - DT / 120)


def face(solver, here, bath):
    """The temperature of the outer face: between the outermost cell and the water, as their resistances divide it."""
    k = getattr(solver, "k_last", None)
    k = K if k is None else k
    inward = 2 * k / solver.dx
    return (solver.h * bath + inward * solver.t[:, -1]) / (solver.h + inward)


class Constant:
    """Constant properties: the tridiagonal system does not change."""

    def __init__(self, cases):
        radius = np.array([c["request"]["thickness_mm"] for c in cases]) / 2000
        p = np.array([{"slab": 0, "cylinder": 1, "sphere": 2}[c["request"]["shape"]] for c in cases])
        areas, volumes = meshes(p, radius)
        dx = radius / CELLS
        h = np.array([c["request"]["surface_w_m2k"] for c in cases])
        capacity = K / ALPHA
        g = areas[:, 1:-1] * (K / dx)[:, None]
        self.dx, self.h = dx, h
        self.skin = areas[:, -1] / (1 / h + dx / 2 / K)
        inertia = capacity * volumes / DT
        self.begun, self.before = False, None
        self.lower, self.upper = np.zeros_like(volumes), np.zeros_like(volumes)
        self.lower[:, 1:], self.upper[:, :-1] = -g, -g
        self.inertia, self.implicit = inertia, np.zeros_like(volumes)
        self.implicit[:, :-1] += g
        self.implicit[:, 1:] += g
        self.implicit[:, -1] += self.skin
        self.t = np.repeat(np.array([c["request"]["start_c"] for c in cases])[:, None], CELLS, axis=1)

    def step(self, bath):
        """One step of the second-order backward difference formula; the first is backward Euler."""
        if self.begun:
            right, diagonal = self.inertia * (2 * self.t - 0.5 * self.before), self.implicit + 1.5 * self.inertia
        else:
            right, diagonal = self.inertia * self.t, self.implicit + self.inertia
        right[:, -1] += self.skin * bath
        self.before, self.begun = self.t, True
        self.t = thomas(self.lower, diagonal, self.upper, right)

    def keep(self, mask):
        for name in ("skin", "lower", "upper", "implicit", "inertia", "t", "before", "dx", "h"):
            setattr(self, name, getattr(self, name)[mask])


def choi_okos(x, t, freeze):
    """Density, conductivity and enthalpy's slope of a food: ASHRAE polynomials, parallel model, ice included."""
    ice = np.where(t < freeze, max(x["water"] - 0.4 * x["protein"], 0) * (1 - freeze / np.minimum(t, freeze)), 0)
    liquid = x["water"] - ice
    parts = [
        (x["protein"], 1329.9 - 0.5184 * t, 0.17881 + 1.1958e-3 * t - 2.7178e-6 * t**2, 2008.2 + 1.2089 * t - 1.3129e-3 * t**2),
        (x["fat"], 925.59 - 0.41757 * t, 0.18071 - 2.7604e-4 * t - 1.7749e-7 * t**2, 1984.2 + 1.4733 * t - 4.8008e-3 * t**2),
        (x.get("carbohydrate", 0), 1599.1 - 0.31046 * t, 0.20141 + 1.3874e-3 * t - 4.3312e-6 * t**2, 1548.8 + 1.9625 * t - 5.9399e-3 * t**2),
        (x.get("fibre", 0), 1311.5 - 0.36589 * t, 0.18331 + 1.2497e-3 * t - 3.1683e-6 * t**2, 1845.9 + 1.8306 * t - 4.6509e-3 * t**2),
        (x["ash"], 2423.8 - 0.28063 * t, 0.32962 + 1.4011e-3 * t - 2.9069e-6 * t**2, 1092.6 + 1.8896 * t - 3.6817e-3 * t**2),
        (liquid, 997.18 + 3.1439e-3 * t - 3.7574e-3 * t**2, 0.57109 + 1.7625e-3 * t - 6.7036e-6 * t**2,
         np.where(t >= 0, 4128.9 - 9.0864e-2 * t + 5.4731e-3 * t**2, 4128.9 - 5.3062 * t + 0.99516 * t**2)),
        (ice, 916.89 - 0.13071 * t, 2.2196 - 6.2489e-3 * t + 1.0154e-4 * t**2, 2062.3 + 6.0769 * t),
    ]
    total = sum(m for m, _, _, _ in parts)
    volume = sum(m / r for m, r, _, _ in parts)
    k = sum(c * m / r for m, r, c, _ in parts) / volume
    heat = sum(c * m for m, _, _, c in parts) / total
    melting = np.where(t < freeze, -333.6e3 * max(x["water"] - 0.4 * x["protein"], 0) * freeze / t**2, 0)
    return total / volume, k, total / volume * (heat + melting)


class Frozen:
    """One food from frozen, by the enthalpy method: temperature and conductivity looked up from enthalpy."""

    def __init__(self, cases, composition, freeze):
        grid = np.concatenate([-40 + (40 + freeze) * (1 - (1 - np.linspace(0, 1, 4000)) ** 3), np.linspace(freeze, 100, 2000)[1:]])
        _, k, slope = choi_okos(composition, grid, freeze)
        self.h_of = np.concatenate([[0], np.cumsum(0.5 * (slope[1:] + slope[:-1]) * np.diff(grid))])
        self.grid, self.k_of = grid, k
        radius = np.array([c["request"]["thickness_mm"] for c in cases]) / 2000
        p = np.array([{"slab": 0, "cylinder": 1, "sphere": 2}[c["request"]["shape"]] for c in cases])
        self.areas, self.volumes = meshes(p, radius)
        self.dx = radius / CELLS
        self.h = np.array([c["request"]["surface_w_m2k"] for c in cases])
        start = np.array([c["request"]["start_c"] for c in cases])
        self.t = np.repeat(start[:, None], CELLS, axis=1)
        self.enthalpy = np.interp(self.t, grid, self.h_of)

    def step(self, bath):
        before, t = self.enthalpy, self.t
        for _ in range(6):
            k = np.interp(t, self.grid, self.k_of)
            inner = 2 * k[:, 1:] * k[:, :-1] / (k[:, 1:] + k[:, :-1])
            g = self.areas[:, 1:-1] * inner / self.dx[:, None]
            skin = self.areas[:, -1] / (1 / self.h + self.dx / 2 / k[:, -1])
            self.k_last = k[:, -1]
            h = np.interp(t, self.grid, self.h_of)
            slope = np.maximum((np.interp(t + 0.02, self.grid, self.h_of) - np.interp(t - 0.02, self.grid, self.h_of)) / 0.04, 1e5)
            inertia = slope * self.volumes / DT
            lower, upper = np.zeros_like(t), np.zeros_like(t)
            lower[:, 1:], upper[:, :-1] = -g, -g
            diagonal = inertia.copy()
            diagonal[:, :-1] += g
            diagonal[:, 1:] += g
            diagonal[:, -1] += skin
            right = inertia * t - (h - before) * self.volumes / DT
            right[:, -1] += skin * bath
            new = thomas(lower, diagonal, upper, right)
            # Step in enthalpy, so that no cell jumps over its melting.
            self.enthalpy = np.clip(h + slope * (new - t), self.h_of[0], self.h_of[-1])
            t = np.interp(self.enthalpy, self.h_of, self.grid)
        self.t = t

    def keep(self, mask):
        for name in ("areas", "volumes", "dx", "h", "t", "enthalpy", "k_last"):
            setattr(self, name, getattr(self, name)[mask])


# --- clocks and kill along every layer -------------------------------------------------------------------------

def follow(cases, solver, organisms, has_table):
    """Runs a group of cases with the same organisms; leaves in each what the rows need."""
    order = np.arange(len(cases))
    traces = [c["trace"] for c in cases]
    until = np.array([c["request"]["until_min"] for c in cases])
    # The gates are asked of the mean of the last hour where readings agree with a setting: then it is given.
    gates = [c.get("gate", c["trace"]) for c in cases]
    set_c = np.array([np.interp(u, t[0], t[1]) - c["error"] for u, t, c in zip(until, gates, cases)])
    error = np.array([c["error"] for c in cases])
    n = len(cases)
    layers = CELLS + 1  # the face itself is one more
    raw, come, warm, after, after_later = (np.zeros((n, layers)) for _ in range(5))
    logs = [np.zeros((n, layers)) for _ in organisms]
    code = np.zeros((n, layers))
    # And where that lacked three per cent yet, as much as two programs differ: the clock after a kill starts later then.
    killed, killed_later = np.full(n, np.nan), np.full(n, np.nan)
    first_5, warm_40 = np.full(n, np.nan), np.full(n, np.nan)
    at_kill = np.full((n, 3), np.nan)
    held_now = {key: np.zeros(n) for key in HELD}
    held = {key: np.zeros(n) for key in HELD}
    hottest_cold = np.full(n, -99.0)
    reached = {key: np.zeros(n, bool) for key in REACHED}
    back, fell = np.full(n, np.nan), np.zeros(n, bool)
    bath_low, bath_high = np.full(n, 999.0), np.full(n, -999.0)
    targets = np.array([[o[1] if c["request"]["at_risk"] else o[0] for o in organisms] for c in cases])
    back_c = np.array([54.4 if "roast" in FOODS[c["request"]["food"]][3] else 57.0 for c in cases])
    minute, step, number = 0.0, DT / 60, 0
    at_end, _ = baths_on_grid(traces, until)
    _, gate_at_middle = baths_on_grid(gates, until)
    with_face = lambda of: np.concatenate([solver.t, of[:, None]], axis=1)
    old = with_face(solver.t[:, -1])
    first_5[old.max(axis=1) >= 5] = 0.0
    while len(order):
        here = order
        bath = at_end[here, number] - error[here]
        solver.step(bath)
        new = with_face(face(solver, here, bath))
        middle = 0.5 * (old + new)
        gate = gate_at_middle[here, number].astype(float) - error[here]
        number += 1
        bath_low[here], bath_high[here] = np.minimum(bath_low[here], gate), np.maximum(bath_high[here], gate)
        hot = gate >= 54.4 - 1e-5
        # Of the water at that same instant, never of a later one.
        upper = np.where(hot, np.maximum(np.minimum(54.4, gate - 0.5), 53.9), 54.4)[:, None]
        minute += step
        raw[here] += step * ((middle >= 5) & (middle < upper))
        come[here] += step * ((middle >= 10) & (middle < upper))
        warm[here] += step * ((middle >= 29.95) & (middle <= 50.05))
        done = ~np.isnan(killed[here])
        after[here] += step * (done[:, None] & (middle >= 5) & (middle < upper))
        later = ~np.isnan(killed_later[here])
        after_later[here] += step * (later[:, None] & (middle >= 5) & (middle < upper))
        for o, log in zip(organisms, logs):
            rate = np.where((middle >= 52) & hot[:, None], 1 / d_minutes(o, middle), 0)
            log[here] += step * rate
        if has_table:
            code[here] += step * np.where(hot[:, None], 1 / table_minutes(middle), 0)
        slowest = np.stack([log[here].min(axis=1) for log in logs], axis=1)
        just = (slowest >= targets[here]).all(axis=1)
        killed[here] = np.where(np.isnan(killed[here]) & just, minute, killed[here])
        surely = (slowest >= 1.03 * targets[here]).all(axis=1)
        killed_later[here] = np.where(np.isnan(killed_later[here]) & surely, minute, killed_later[here])
        both = just & ((code[here].min(axis=1) >= 1) if has_table else True) & np.isnan(at_kill[here, 0])
        for i in np.flatnonzero(both):
            at_kill[here[i]] = raw[here[i]].max(), come[here[i]].max(), warm[here[i]].max()
        cold = new.min(axis=1)
        hottest_cold[here] = np.maximum(hottest_cold[here], cold)
        for key, (c, _) in HELD.items():
            now = np.where(cold >= c, held_now[key][here] + step * 60, 0)
            held_now[key][here] = now
            held[key][here] = np.maximum(held[key][here], now)
        for key, (core, bath) in REACHED.items():
            reached[key][here] |= (cold >= core) & (gate >= bath)
        passed = new.max(axis=1) >= 5
        first_5[here] = np.where(np.isnan(first_5[here]) & passed, minute, first_5[here])
        warm_40[here] = np.where(np.isnan(warm_40[here]) & (cold >= 40.15), minute, warm_40[here])
        warm_again = cold >= back_c[here]
        fell[here] |= ~np.isnan(back[here]) & ~warm_again
        back[here] = np.where(np.isnan(back[here]) & warm_again, minute, back[here])
        old = new.copy()
        alive = until[here] > minute + 1e-9
        if not alive.all():
            solver.keep(alive)
            old, order = old[alive], order[alive]
    for i, case in enumerate(cases):
        progress = min(log[i].min() / t for log, t in zip(logs, targets[i]))
        case["facts"] = {
            "set": set_c[i], "raw": raw[i].max(), "warm": warm[i].max(), "come": come[i].max(), "after": after[i].max(), "after~": after_later[i].max(),
            "killed": not np.isnan(killed[i]), "progress": progress, "code": code[i].min() if has_table else None,
            "at_kill": None if np.isnan(at_kill[i, 0]) else tuple(at_kill[i]), "held": {k: held[k][i] for k in HELD},
            "reached": {k: bool(reached[k][i]) for k in REACHED}, "first_5": first_5[i], "warm_40": warm_40[i], "back": back[i], "fell": bool(fell[i]),
            "bath_low": bath_low[i], "bath_high": bath_high[i],
        }


# Core temperature and seconds; looked at a tenth of a degree and a few steps more mildly too.
HELD = {}
for _name, _c, _s in [("bivalve", 90, 90), ("whole", 63, 15), ("pierced", 68, 17), ("fish", 60, 60), ("egg", 63, 15)]:
    HELD[_name], HELD[_name + "~"], HELD[_name + "^"] = (_c, _s), (_c - 0.15, max(_s - 45, 0)), (_c + 0.15, _s + 45)
REACHED = {}
for _name, _c, _b in [("shellfish", 54, 55), ("scallop", 49, 50), ("egg-bath", 59, 60)]:
    REACHED[_name], REACHED[_name + "~"], REACHED[_name + "^"] = (_c, _b), (_c - 0.15, _b - 0.05), (_c + 0.15, _b + 0.05)


# --- the rows --------------------------------------------------------------------------------------------------

def decide(case, mild=False, strict=False):
    """The first row that matches. With `mild`, every limit is taken a little wider; with `strict`, narrower."""
    r, f = case["request"], case["facts"]
    food_class, organisms, _, traits = FOODS[r["food"]]
    slack, wide = (1.2, 0.05) if mild else (-1.2, -0.05) if strict else (0.0, 0.0)
    tilde = "~" if mild else "^" if strict else ""
    held = lambda name: f["held"][name + tilde] >= HELD[name + tilde][1] - 1e-6 and f["held"][name + tilde] > 0
    within = lambda minutes, limit: minutes <= limit + slack
    animal = food_class not in ("plant", "phaseolus")
    at_risk = r["at_risk"]
    after_pull = r.get("after_min", 0)
    start = r["start_c"]
    out = r.get("out_min", 120 if start > 10 else 0)
    waited = r.get("waited_min", 0)
    raw_before = waited + (out if start >= 5 else 0)
    raw = f["raw"] + raw_before + after_pull
    # How warm it was while it waited nobody knows: on every clock.
    warm_before = waited + (out if 29.95 <= start <= 50.05 else 0)
    warm = f["warm"] + warm_before + after_pull
    if r.get("for_shelf"):
        return "refused"
    if food_class == "phaseolus" and not r.get("prepared"):
        return "refused"
    if food_class == "bivalve" and not held("bivalve"):
        return "refused"
    if food_class == "ferment":
        in_range = f["bath_low"] >= 40 - wide and f["bath_high"] <= 46 + wide
        # At its strictest its hours count from when its core is warm (docs/decisions/0018).
        begun = (f["warm_40"] if not np.isnan(f["warm_40"]) else np.inf) if strict else 0.0
        long_enough = 240 - slack <= r["until_min"] - begun and r["until_min"] <= 1440 + slack
        # And what stood out of the bath for more than four hours is none any more.
        left = strict and not within(after_pull, 240)
        return "exempt" if r.get("prepared") and in_range and long_enough and not left else "refused"
    kill = f["progress"] >= (0.97 if mild else 1.03 if strict else 1.0) and (f["killed"] or mild)
    after_kill = (f["after~" if mild else "after"] + after_pull) if f["killed"] or kill else 0.0
    if r.get("state") == "pasteurized-chilled":
        since = (r["until_min"] - f["first_5"] if not np.isnan(f["first_5"]) else 0.0) + raw_before
        back = f["back"] - f["first_5"] + raw_before if not np.isnan(f["back"]) else np.inf
        in_time = within(back, 120) and (mild or not f["fell"])
        if in_time and within(after_pull, 120):
            return "pasteurized"
        if within(since + after_pull, 120):
            return "pasteurized"
        # Too long where bacteria grow since it left the cold, in sum: refused here, whatever kills it after.
        if not within(raw, 240):
            return "refused"
        if in_time and within(after_pull, 240) and not at_risk:
            return "serve-now"
    table = f["code"] is None or f["code"] >= (0.95 if mild else 1.05 if strict else 1.0)
    clocks = f["at_kill"] or (f["raw"], f["come"], f["warm"])
    warming = within(clocks[1] + waited + (out if start >= 10 else 0), 360)
    toxins = within(clocks[2] + warm_before, 180)
    histamine = "histamine" not in traits or within(clocks[0] + raw_before, 120)
    if kill and table and warming and toxins and histamine:
        if within(after_kill, 120):
            return "pasteurized"
        if within(after_kill, 240) and not at_risk:
            return "serve-now"
    if animal and at_risk:
        return "refused"
    raw_limit = 120 if "histamine" in traits else 240
    if not within(raw, raw_limit) or not within(warm, 120) or not within(after_kill, 240):
        return "refused"
    pierced = food_class in ("ground", "mixture") or not r.get("intact", False)
    if food_class in ("beef", "lamb", "pork", "ground", "fish", "crustacean") and organisms != "poultry" and "wild" not in traits:
        if held("pierced" if pierced and animal else "whole"):
            return "serve-now"
    if animal and pierced:
        return "refused"
    if food_class in ("beef", "lamb", "duck"):
        return "serve-now"
    if food_class in ("pork", "poultry"):
        return "refused"
    if food_class == "fish":
        said = r.get("parasites", "none")
        by_kind = said == "exempt" and ("farmed" in traits or "thunnus" in traits)
        return "serve-now" if said == "frozen" or by_kind or held("fish") else "refused"
    if food_class == "crustacean":
        name = ("scallop" if "scallop" in traits else "shellfish") + tilde
        return "serve-now" if f["reached"][name] else "refused"
    if food_class == "egg":
        done = f["reached"]["egg-bath" + tilde] or held("egg")
        return "serve-now" if r.get("use") == "soft" and done else "refused"
    if food_class == "bivalve":
        return "refused"
    return "serve-now"


# --- random cases ----------------------------------------------------------------------------------------------

def trace_of(rng, centre, until):
    """A bath as kitchens have them: steady, warming up, sagging, turned down and up again, drifting."""
    kind = rng.choice(["steady"] * 5 + ["warm-up", "sag", "turned-down", "drift", "late-heat", "wobble"])
    flat = lambda points: (np.array([p[0] for p in points], float), np.array([p[1] for p in points], float))
    u = max(until, 30)
    if kind == "steady":
        return flat([(0, centre)]), False
    if kind == "warm-up":
        return flat([(0, rng.uniform(15, 45)), (rng.uniform(10, 60), centre)]), True
    if kind == "sag":
        a, depth = rng.uniform(5, u), rng.uniform(0.3, 20)
        return flat([(0, centre), (a, centre), (a + rng.uniform(5, 60), centre - depth), (a + rng.uniform(61, 300), centre)]), True
    if kind == "turned-down":
        a = rng.uniform(20, u)
        return flat([(0, centre), (a, centre), (a + 5, rng.uniform(30, 56)), (a + rng.uniform(30, 600), rng.uniform(30, 66))]), True
    if kind == "drift":
        return flat([(0, centre + rng.uniform(0, 4)), (u, centre - rng.uniform(0, 8))]), True
    if kind == "late-heat":
        a = rng.uniform(20, u)
        return flat([(0, rng.uniform(35, 54.3)), (a, rng.uniform(35, 54.3)), (a + 10, centre)]), True
    points = [(0, centre)]
    while points[-1][0] < u:
        points.append((points[-1][0] + rng.uniform(5, 40), centre + rng.uniform(-1, 1)))
    return flat(points), True


BATHS = {"ferment": (36, 48), "plant": (50, 92), "phaseolus": (60, 95), "bivalve": (60, 97), "egg": (55, 66), "mixture": (60, 88)}


def plan(rng, frozen):
    names = ["beef-strip", "chicken-breast", "salmon-fillet", "pork-chop", "prawn"] if frozen else list(FOODS)
    food = rng.choice(names)
    food_class, _, shape, _ = FOODS[food]
    low, high = BATHS.get(food_class, (44, 68))
    # Near the gates and limits more often than anywhere else.
    centre = rng.choice([rng.uniform(low, high)] * 3 + [54.4, 54.3, 54.5, 53.9, 55.0, 60.0] * (low < 54 < high) or [rng.uniform(low, high)])
    thickness = 46.6 if food == "shell-egg-large" else round(rng.uniform(8, 45 if frozen else rng.choice([30, 60, 110])), 1)
    until = round(rng.choice([rng.uniform(4, 120), rng.uniform(60, 360), rng.uniform(60, 360), rng.uniform(200, 900), rng.uniform(5, 1440)]), 1)
    if frozen:
        until = round(rng.uniform(30, 420), 1)
    (minutes, celsius), varies = trace_of(rng, round(centre, 2), until)
    celsius = np.clip(celsius, 0, 97)
    request = {
        "food": food, "shape": shape, "thickness_mm": thickness, "until_min": until, "at_risk": rng.random() < 0.3,
        "start_c": round(rng.uniform(-22, -6), 1) if frozen else rng.choice([5, 5, 5, 2, 8, 15, 31]),
        "intact": rng.random() < 0.7, "surface_w_m2k": rng.choice([95, 60, 400]),
    }
    if not frozen:
        request["properties"] = {"diffusivity_m2_s": ALPHA, "conductivity_w_mk": K}
    if varies:
        request["bath"] = [{"min": round(float(m), 3), "c": round(float(c), 3)} for m, c in zip(minutes, celsius)]
        trace = (np.array([p["min"] for p in request["bath"]]), np.array([p["c"] for p in request["bath"]]))
    else:
        request["bath_c"] = round(float(celsius[0]), 2)
        trace = (np.array([0.0]), np.array([request["bath_c"]]))
    error = rng.choice([0, 0, 0, 0.1, 0.4])
    if error:
        request["bath_error_c"] = error
    for name, chance, value in [("out_min", 0.2, rng.uniform(0, 300)), ("waited_min", 0.2, rng.uniform(0, 250)),
                                ("after_min", 0.35, rng.choice([10, 60, 118, 125, 200, 300, 960]))]:
        if rng.random() < chance:
            request[name] = round(value, 1)
    if rng.random() < 0.12 and food_class not in ("ferment",):
        request["state"] = "pasteurized-chilled"
    if rng.random() < 0.03:
        request["for_shelf"] = True
    if food_class in ("ferment", "phaseolus") and rng.random() < 0.7:
        request["prepared"] = True
    if food_class == "fish":
        request["parasites"] = rng.choice(["none", "frozen", "exempt"])
    if food_class == "egg":
        request["use"] = rng.choice(["raw", "soft"])
    return {"request": request, "trace": trace, "error": error}


def written_events(rng):
    """A list as hands write it: drops, pulls, floats, undone and corrected, in any order; and how it is read."""
    now = rng.randint(60, 1500)
    kinds = ["dropped"] * 4 + ["pulled"] * 3 + ["eaten", "floated", "undone", "undone", "corrected", "corrected", "dried"]
    events = []
    for i in range(rng.randint(1, 10)):
        kind = "dropped" if i == 0 else rng.choice(kinds)
        event = {"n": i + 1, "kind": kind, "min": rng.randint(0, min(now, 500))}
        if kind == "floated":
            event["afloat_min"] = round(rng.uniform(0, 60), 1)
        if kind in ("undone", "corrected"):
            event["event"] = rng.randint(1, i) if i else 1
        events.append(event)
    return events, now


def read_events(events):
    """The entries that stand if a line is taken only when the whole can have happened."""
    taken = []
    for event in events:
        if possible(taken + [event]):
            taken.append(event)
    return taken, standing(taken)[0]


def standing(events):
    """Entries by number; None where an undo or a correction names nothing that stands."""
    entries, undone = {}, {}
    for e in events:
        if e["kind"] == "undone":
            target = e["event"]
            if target in undone:
                entry = undone.pop(target)
                entries[entry["n"]] = entry
            elif target in entries:
                undone[e["n"]] = entries.pop(target)
            else:
                return None, None
        elif e["kind"] == "corrected":
            if e["event"] not in entries or entries[e["event"]]["kind"] == "floated":
                return None, None
            entries[e["event"]] = dict(entries[e["event"]], min=e["min"])
        else:
            entries[e["n"]] = dict(e)
    return entries, undone


def possible(events):
    entries, _ = standing(events)
    if entries is None:
        return False
    when = {}
    for kind in ("dropped", "pulled", "dried", "eaten"):
        found = [e["min"] for e in entries.values() if e["kind"] == kind]
        if len(found) > 1:
            return False
        if found:
            when[kind] = found[0]
    for kind, needs in (("pulled", "dropped"), ("dried", "pulled"), ("eaten", "pulled")):
        if kind in when and needs not in when:
            return False
    in_order = [when[k] for k in ("dropped", "pulled", "dried", "eaten") if k in when]
    if in_order != sorted(in_order):
        return False
    afloat = 0.0
    for e in sorted((e for e in entries.values() if e["kind"] == "floated"), key=lambda e: (e["min"], e["n"])):
        if "dropped" not in when or e["min"] < when["dropped"] or e["min"] > when.get("pulled", 1e9):
            return False
        afloat += e["afloat_min"]
        if afloat > e["min"] - when["dropped"] + 1:
            return False
    return True


def event_case(rng):
    events, now = written_events(rng)
    taken, entries = read_events(events)
    when = {e["kind"]: e["min"] for e in entries.values() if e["kind"] != "floated"}
    line = {"events": events, "taken": [e["n"] for e in taken], "now": now, "bath_c": rng.choice([50, 52, 54.5, 55, 57, 60]),
            "at_risk": rng.random() < 0.3, "intact": rng.random() < 0.7}
    if "dropped" not in when:
        return {"line": line, "request": None}
    afloat = sum(e["afloat_min"] for e in entries.values() if e["kind"] == "floated")
    pulled, eaten = when.get("pulled"), when.get("eaten")
    end = pulled if pulled is not None else now
    until = max(end - when["dropped"] - afloat, 1.0)
    after = 0 if pulled is None else max((eaten if eaten is not None else now) - pulled, 0)
    # As fast as a strip steak of 32 mm could be: the program plans its slow end.
    request = {"food": "beef-strip", "shape": "slab", "thickness_mm": 30, "start_c": 7, "until_min": round(until, 1), "bath_c": line["bath_c"],
               "intact": line["intact"], "at_risk": line["at_risk"], "surface_w_m2k": 95, "waited_min": afloat, "after_min": after}
    trace = (np.array([0.0]), np.array([float(line["bath_c"])]))
    return {"line": line, "request": request, "trace": trace, "error": 0}


def main():
    arguments = argparse.ArgumentParser()
    arguments.add_argument("--count", type=int, default=10_000)
    arguments.add_argument("--seed", type=int, default=1)
    arguments.add_argument("--foods", default="crates/core/data/foods", help="compositions, for frozen starts")
    options = arguments.parse_args()
    rng = random.Random(options.seed)
    frozen_count, event_count = options.count // 20, options.count // 8
    plans = [plan(rng, False) for _ in range(options.count - frozen_count - event_count)]
    frozen = [plan(rng, True) for _ in range(frozen_count)]
    lists = [event_case(rng) for _ in range(event_count)]
    groups = {}
    for case in plans + [c for c in lists if c["request"]]:
        organisms = FOODS[case["request"]["food"]][1]
        groups.setdefault(organisms, []).append(case)
    for organisms, cases in groups.items():
        follow(cases, Constant(cases), ORGANISMS[organisms], organisms == "red")
    composition = {}
    for name in ("beef", "poultry", "fish", "pork", "shellfish"):
        with open(f"{options.foods}/{name}.json", encoding="utf8") as file:
            composition.update({f["id"]: (f["composition"], f["freezing"]["value"]) for f in json.load(file)})
    for food in {c["request"]["food"] for c in frozen}:
        cases = [c for c in frozen if c["request"]["food"] == food]
        organisms = FOODS[food][1]
        follow(cases, Frozen(cases, *composition[food]), ORGANISMS[organisms], organisms == "red")
    for case in plans + frozen:
        line = {"request": case["request"], "level": decide(case), "mildest": mildest(case), "strictest": strictest(case)}
        print(json.dumps(line))
    for case in lists:
        line = case["line"]
        if case["request"]:
            line |= {"level": decide(case), "mildest": mildest(case)}
        print(json.dumps(line))


def mildest(case):
    return min((decide(case), decide(case, mild=True)), key=COUNTS.get)


def strictest(case):
    return max((decide(case), decide(case, strict=True)), key=COUNTS.get)


if __name__ == "__main__":
    sys.exit(main())
