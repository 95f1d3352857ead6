#!/usr/bin/env python3
"""Random evenings beside an independent reading of the verdict table.

Each is a cook with its bath: a vessel of water simulated here (one heat capacity, a heater or none, loads, lids, cuts,
kettle water), read by a device or by hand, with gaps; drops, pulls, minutes afloat; guests of both kinds. What the water
*really* was is known here, so the table (`verdicts.py`, beside this) is read on the truth, for a piece as fast as it can
be: nothing the program says may be milder than that, and at the minute it tells the hands to pull, that must allow it.

    python3 scripts/reference/evenings.py --count 400 --seed 1 > evenings.jsonl

A line: the sentence of the plan, settings, readings, events, and at some minutes what is read there (`mildest`).
`sound` names evenings of ordinary sound practice: there the program may be no harder than the same cook unread.
"""

import argparse
import json
import math
import random
import sys

import numpy as np

import verdicts as v

# Food, thickness in mm, bath in °C; more of what is near a limit than of what is not.
PLANS = [
    ("beef-strip", (18, 40), (50.0, 58.0)), ("beef-strip", (18, 40), (54.4, 57.0)), ("beef-flank", (15, 30), (54.4, 57.0)),
    ("chicken-breast", (20, 40), (57.0, 66.0)), ("chicken-breast", (20, 40), (60.0, 63.0)), ("burger", (18, 30), (56.0, 63.0)),
    ("pork-chop", (20, 40), (56.0, 63.0)), ("duck-breast", (18, 28), (55.0, 60.0)), ("salmon-fillet", (18, 32), (48.0, 54.0)),
    ("cod-fillet", (18, 32), (50.0, 62.0)), ("prawn", (14, 22), (55.0, 60.0)), ("scallop", (20, 30), (49.0, 56.0)),
    ("lamb-rack", (25, 40), (52.0, 58.0)),
]
KINDS = ["steady", "steady", "hand", "swing", "load", "cut", "cut", "cut-back", "silent", "colder", "turned-down",
         "cooler", "cooler-topped", "pot", "off-all-day", "late-pull", "floats", "warms-up", "told-off"]
STEP = 0.5  # minutes


def water(rng, kind, set_c, drop, end):
    """Minutes and the true water, from an hour before the drop."""
    minutes = np.arange(-60, end, STEP)
    c = np.empty_like(minutes)
    litres = rng.uniform(7, 20)
    tau = litres * 4180 / rng.uniform(3, 8) / 60
    now, room = set_c, 21.0
    if kind in ("cooler", "cooler-topped"):
        tau, now = rng.uniform(500, 1400), set_c + rng.uniform(0.5, 4)
    cut = drop + rng.uniform(5, 200)
    back = cut + rng.uniform(20, 240)
    off = rng.uniform(0.5, 12)
    depth = rng.uniform(0.4, 4)
    splash = [drop + 45 * i + rng.uniform(-5, 5) for i in range(1, 20)]
    for i, m in enumerate(minutes):
        heated = kind not in ("cooler", "cooler-topped")
        target = set_c
        if kind in ("cut", "cut-back", "off-all-day", "told-off") and m >= cut and not (kind in ("cut-back", "told-off") and m >= back):
            heated = False
        if kind == "colder":
            target = set_c - off
            now = target
        if kind == "turned-down" and m >= cut:
            target = set_c - off
        if kind == "warms-up":
            target = set_c
            now = min(now, 25 + (m - drop + 20) * 0.8) if m < drop + 60 else now
        if heated:
            now = max(target, now - STEP * (now - room) / tau) if now > target else min(target, now + STEP * 0.8)
        else:
            now -= STEP * (now - room) / tau
        if kind == "cooler-topped" and splash and m >= splash[0]:
            splash.pop(0)
            now += rng.uniform(0.3, 1.5)
        c[i] = now
        if kind == "load" and m >= drop:
            c[i] -= depth * math.exp(-(m - drop) / 9) * min((m - drop) / 3, 1)
        if kind == "swing":
            c[i] += 0.45 * math.sin(m / rng.choice([1.7]) )
        if kind == "pot":
            c[i] += 0.9 * math.sin(m / 4.1)
    return minutes, c, (cut, back)


def read(rng, kind, minutes, c, drop, end):
    """What is written down of it: minute, °C, by a device, checked."""
    noise = rng.choice([0.0, 0.05, 0.1])
    at = lambda m: float(np.interp(m, minutes, c))
    # Two readings by hand that agree leave a heated bath as read between them: what failed in between nobody can know. Such
    # evenings are a device's.
    failing = kind in ("cut", "cut-back", "off-all-day", "silent")
    by_hand = kind in ("hand", "cooler", "cooler-topped", "pot") or (not failing and rng.random() < 0.25)
    checked = rng.random() < 0.6
    every = rng.choice([8.0, 25.0, 55.0, 110.0]) if by_hand else rng.choice([0.5, 1.0, 1.0, 5.0])
    lost = (end, end)
    if kind == "silent":
        a = drop + rng.uniform(5, 150)
        lost = (a, a + rng.uniform(12, 200))
    if kind == "off-all-day" and rng.random() < 0.5:
        lost = (0, end)
    out = []
    m = -30 + rng.uniform(0, every)
    if by_hand and rng.random() < 0.4:
        m = drop + rng.uniform(1, 40)
    while m < end:
        if not lost[0] <= m <= lost[1]:
            # A thermometer's error is on the side the kitchen knows of: what it may read too high is taken off.
            out.append([round(m, 2), round(at(m) + (0 if by_hand else rng.gauss(0, noise)), 1 if by_hand else 2), not by_hand, checked])
        m += every * (rng.uniform(0.7, 1.3) if by_hand else 1)
    # A heated bath that nobody reads is taken to be as it was set: that it was not, nobody can know. What no heater holds is
    # never taken to be as it was meant, read or not.
    unread = rng.random() < 0.12 or kind == "told-off"
    if unread and kind not in ("cut", "cut-back", "off-all-day", "colder", "turned-down", "load"):
        out = []
    # Rounded downward, so that no reading says more than the water was.
    return [[m, math.floor(x * 10) / 10 if hand else x, dev, chk] for (m, x, dev, chk), hand in ((r, not r[2]) for r in out)]


def hour_mean(minutes, c):
    width = int(60 / STEP)
    total = np.concatenate([[0], np.cumsum(c)])
    n = np.arange(1, len(c) + 1)
    low = np.maximum(n - width, 0)
    return (total[n] - total[low]) / (n - low)


def evening(rng, number):
    food, (thin, thick), (low, high) = rng.choice(PLANS)
    kind = rng.choice(KINDS)
    thickness = rng.randint(thin, thick)
    set_c = round(rng.choice([rng.uniform(low, high), low, high]) * 2) / 2
    at_risk = rng.random() < 0.45
    # Only of whole cuts is it asked whether they are.
    intact = rng.random() < 0.85 or v.FOODS[food][0] not in ("beef", "lamb", "pork", "duck")
    drop, end = 0.0, rng.choice([180, 260, 360, 520, 700])
    minutes, c, (cut, back) = water(rng, kind, set_c, drop, end)
    readings = read(rng, kind, minutes, c, drop, end)
    off = []
    if kind == "told-off":
        # Nobody looked; then somebody says since when it was off, and reads it.
        told = min(back + rng.uniform(0, 10), end - 2)
        cut = min(cut, told - 1)
        off = [[math.floor(cut), round(told, 2), round(told, 2)]]
        at = lambda m: math.floor(float(np.interp(m, minutes, c)) * 10) / 10
        readings = [[round(told, 2), at(told), False, True]] + [[m, at(m), False, True] for m in range(int(told) + 20, end, 25)]
    settings = [[-60, set_c]]
    form = {"food": food, "thickness": f"{thickness} mm", "bath": f"{set_c} °C", "intact": "whole" if intact else "bladed",
            "guests": "at-risk" if at_risk else "well", "parasites": rng.choice(["frozen", "none"]) if food in ("salmon-fillet", "cod-fillet") else ""}
    events = [[0, "dropped", 0]]
    afloat = 0.0
    if kind == "floats":
        when = rng.randint(20, 120)
        afloat = rng.randint(5, when - 5)
        events.append([when, "floated", afloat])
    pulled = None
    if kind == "late-pull" or rng.random() < 0.3:
        pulled = rng.randint(30, end - 20)
        if kind == "floats":
            pulled = max(pulled, events[-1][0] + 1)
        events.append([pulled, "pulled", 0])
    looks = sorted(rng.sample(range(5, end - 1), 5) + ([pulled + 5, pulled + 150] if pulled else []))
    looks = [m for m in looks if m < end]
    # What nobody has said or read yet nobody can know: that it floats, before somebody found it; that a heated bath is not as it
    # was set, before the first reading.
    if kind == "floats":
        looks = [m for m in looks if not events[1][0] - events[1][2] <= m < events[1][0]]
    first = readings[0][0] if readings else 0
    if kind in ("cut", "cut-back", "off-all-day", "colder", "turned-down", "load"):
        looks = [m for m in looks if m >= first]
    # Nor that it was off, before somebody said so.
    if kind == "told-off":
        looks = [m for m in looks if m < cut or m >= off[0][2]]
    # Nor that a bath that was set long ago had not come to it, where nobody read it.
    if kind == "warms-up" and not readings:
        there = next((float(m) for m, x in zip(minutes, c) if m >= 0 and x >= set_c - 0.05), end)
        looks = [m for m in looks if m >= there]
    # Nor that it was turned down since it was last read by hand, and nobody said so.
    if kind == "turned-down" and readings and not readings[0][2]:
        down = next((float(m) for m, x in zip(minutes, c) if m >= 0 and x < set_c - 0.05), end)
        looks = [m for m in looks if m < down or any(down <= r[0] <= m for r in readings)]
    # As fast as it could be: thinner, from the warm end of the refrigerator, water that stands at the upper end of what it may
    # carry; the truth, and the mean of its last hour where that is the warmer gate.
    still = kind in ("cooler", "cooler-topped", "pot")
    request = {"food": food, "shape": v.FOODS[food][2], "thickness_mm": max(thickness - 2, 4), "start_c": 7, "intact": intact,
               "at_risk": at_risk, "surface_w_m2k": 60 if still else 95, "parasites": form["parasites"] or "none", "waited_min": afloat}
    # And as fast as one of the two alone makes it: what is uncertain and goes either way adds up by its squares (science), so
    # that growth clocks, which run out sooner the faster it warms, are asked of no corner nobody stands in.
    alone = dict(request, start_c=4.5)
    inside = minutes >= 0
    true = (minutes[inside], c[inside])
    if afloat:
        # Out of the water for as long as it was up: its minutes go on after.
        up = events[1][0] - afloat
        keep = (true[0] < up) | (true[0] >= up + afloat)
        shifted = np.where(true[0] >= up + afloat, true[0] - afloat, true[0])
        true = (shifted[keep], true[1][keep])
    mean = np.maximum(hour_mean(minutes, c)[inside], c[inside])
    # Asked of the mean of the last hour, and of the water at that instant: a kill that a mean earns after the water fell is a
    # kill that spoils later. Neither may be milder than what the program says.
    gates = [(minutes[inside], mean), (minutes[inside], c[inside])]
    cases = []
    for m in looks:
        until = m if pulled is None or m < pulled else pulled
        own = max(until - afloat, 1.0) if afloat and until >= events[1][0] else until
        after = 0 if pulled is None or m < pulled else m - pulled
        cases += [{"request": dict(piece, until_min=float(max(own, 1)), after_min=float(after)), "trace": true, "gate": gate, "error": 0, "look": m}
                  for piece in (request, alone) for gate in gates]
    # A load that draws the water under a gate of the rules, or further than a reading may lie from the setting, is no sound
    # practice: the bench says which setting keeps it above (54.4 °C; 55 for crustaceans).
    gate_c = 55.0 if food in ("prawn", "scallop") else 54.4
    dips = kind == "load" and (set_c - 0.7 < gate_c or any(set_c - r[1] > 0.7 for r in readings))
    # Of water that swings a few readings by hand may all be of its low side: they say what they say.
    swings = kind == "swing" and any(not r[2] for r in readings)
    sound = kind in ("steady", "hand", "swing", "load") and pulled is None and not dips and not swings
    by_hand = kind in ("cooler", "cooler-topped", "pot")
    vessel = {"cooler": "cooler-20", "cooler-topped": "cooler-20", "pot": "pot-8"}.get(kind) if by_hand else None
    added = [m for m in (45 * i for i in range(1, 20)) if m < end] if kind == "cooler-topped" else []
    line = {"number": number, "kind": kind, "form": form, "settings": settings, "readings": readings, "events": events,
            "sound": sound, "vessel": vessel, "added": added, "off": off}
    return line, cases


def main():
    arguments = argparse.ArgumentParser()
    arguments.add_argument("--count", type=int, default=400)
    arguments.add_argument("--seed", type=int, default=1)
    arguments.add_argument("--only", help="numbers of evenings, with commas between them")
    options = arguments.parse_args()
    rng = random.Random(options.seed)
    only = {int(n) for n in options.only.split(",")} if options.only else None
    lines, groups = [], {}
    for number in range(options.count if only is None else max(only) + 1):
        line, cases = evening(rng, number)
        if only is not None and number not in only:
            continue
        line["looks"] = cases
        lines.append(line)
        groups.setdefault(v.FOODS[line["form"]["food"]][1], []).extend(cases)
    for organisms, cases in groups.items():
        for some in (cases[i:i + 2000] for i in range(0, len(cases), 2000)):
            v.follow(some, v.Constant(some), v.ORGANISMS[organisms], organisms == "red")
    for line in lines:
        each = (line["looks"][i:i + 4] for i in range(0, len(line["looks"]), 4))
        line["looks"] = [{"min": some[0]["look"], "mildest": min(map(v.mildest, some), key=v.COUNTS.get)} for some in each]
        print(json.dumps(line))


if __name__ == "__main__":
    sys.exit(main())
