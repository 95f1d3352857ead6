"""Writes data/evidence/learned.json: warm-ups and cool-downs of invented vessels, whose power and loss are known.

Independent of the crate: saturation by Buck (1996), McAdams' film for rising air, Lewis' analogy, Stefan's flow, and a
fourth-order Runge-Kutta of a second a step, are written again here. Needs nothing but Python; run `python3
make_learned.py` after changing a record.
"""
import json
import math
import pathlib
import random

ROOM, HUMIDITY, PRESSURE = 21.0, 0.5, 101_325.0


def saturation(c):
    return 611.21 * math.exp((18.678 - c / 234.5) * (c / (257.14 + c)))


def vapour_w_m2(c):
    over, away = saturation(c), HUMIDITY * saturation(ROOM)
    if over <= away:
        return 0.0

    def virtual(c, e):
        return (c + 273.15) / (1 - 0.378 * e / PRESSURE)

    film_k = (c + ROOM) / 2 + 273.15
    density = PRESSURE / 287.05 / film_k
    k = 0.0263 + 7.4e-5 * (film_k - 300)
    viscosity = 1.72e-5 * (film_k / 273.15) ** 0.76
    warmer = max(virtual(c, over) - virtual(ROOM, away), 0.5)
    film = 0.14 * k * (9.81 * warmer / film_k * density / viscosity * density * 1007 / k) ** (1 / 3)
    transfer = film / (density * 1007 * 0.87 ** (2 / 3))
    stefan = PRESSURE * math.log((PRESSURE - away) / (PRESSURE - over)) / (over - away)
    drives = over / 461.5 / (c + 273.15) - away / 461.5 / (ROOM + 273.15)
    return transfer * stefan * drives * (2.501e6 - 2361 * c)


def run(v, start, minutes, power):
    share = {"none": 1.0, "lid": 0.05, "foil": 0.1, "balls": 0.2}[v["cover"]]
    heat = (v["litres"] * 4.18 + v["vessel_kj_k"]) * 1000

    def rate(s, c):
        return (power(s, c) - v["loss_w_k"] * (c - ROOM) - v["vapour"] * share * v["surface_m2"] * vapour_w_m2(c)) / heat

    c, out = start, [start]
    for s in range(minutes * 60):
        a = rate(s, c)
        b = rate(s + 0.5, c + a / 2)
        d = rate(s + 0.5, c + b / 2)
        e = rate(s + 1, c + d)
        c += (a + 2 * b + 2 * d + e) / 6
        out.append(c)
    return out


def read(water, every, until=None):
    points = [[s // 60, round(water[s] + rng.gauss(0, 0.03), 1)] for s in range(0, len(water), every * 60)]
    return [p for p in points if until is None or p[1] < until]


def vessel(litres, surface, cover, loss, vapour, heater):
    return {"litres": litres, "vessel_kj_k": 0.9, "surface_m2": surface, "cover": cover, "loss_w_k": loss, "vapour": vapour, "heater_w": heater}


rng = random.Random(20261201)
BOX = vessel(11, 0.08, "lid", 2.4, 1.0, 900)
POT = vessel(8, 0.045, "none", 2.5, 1.4, 1100)
TUB = vessel(26, 0.16, "balls", 4.0, 1.3, 2000)
COOLER = vessel(18, 0.12, "lid", 1.1, 1.0, 0)
full = lambda v: lambda s, c: v["heater_w"]
RECORDS = [
    ("A box with its lid on, from the tap to 50 °C", BOX, "heater", 0.8, read(run(BOX, 15, 40, full(BOX)), 1, 50)),
    ("The same, throttled within 8 K of its setting", BOX, "heater", 0.8, read(run(BOX, 25, 60, lambda s, c: 900 * min(max((56 - c) / 8, 0), 1)), 1, 55)),
    ("The same, switched on 20 min late", BOX, "heater", 1.25, read(run(BOX, 18, 50, lambda s, c: 0 if s < 1200 else 900), 1)),
    ("An open pot in a draught, to 80 °C", POT, "heater", 1.2, read(run(POT, 20, 60, full(POT)), 1, 80)),
    ("A tub under floating balls, read each five minutes", TUB, "heater", 0.8, read(run(TUB, 15, 40, full(TUB)), 5)),
    ("A cooler that is left alone for six hours", COOLER, "loss", 1.5, read(run(COOLER, 62, 360, lambda s, c: 0), 10)),
    ("An open pot that cools from 85 °C for six hours", POT, "loss", 1.5, read(run(POT, 85, 360, lambda s, c: 0), 5)),
]

out = pathlib.Path(__file__).parent / "../../data/evidence/learned.json"
records = []
for label, v, what, shape, readings in RECORDS:
    pool = {k: v[k] for k in ("litres", "vessel_kj_k", "surface_m2", "cover")}
    records.append({"label": label, "what": what, **pool, "shape_loss_w_k": round(v["loss_w_k"] * shape, 3), "truth": v["heater_w"] if what == "heater" else v["loss_w_k"], "readings": readings})
out.write_text("{\n \"records\": [\n  " + ",\n  ".join(json.dumps(r, ensure_ascii=False) for r in records) + "\n ]\n}\n")
for c in (54, 60, 74, 85):
    print(c, round(vapour_w_m2(c) / (2.501e6 - 2361 * c) * 3600, 2), "kg/m²h in a room of 21 °C")
