"""Times the core's slab and SciPy's BDF on the same 60-cell mesh, in one run, and prints the ratio.

25 mm, 4 h at 55 °C from 5 °C, composition-based properties. Beside it the largest error of each against
the other, and of the core against the exact series for constant properties. Needs numpy, scipy and cargo.
"""
import json
import os

# Settings of some machines that make numpy pick slow kernels: the peer runs at its best.
for slow in ("OPENBLAS_CORETYPE", "OPENBLAS_L2_SIZE"):
    os.environ.pop(slow, None)

import subprocess
import sys
import time

here = os.path.dirname(os.path.abspath(__file__))
sys.path.insert(0, os.path.join(here, "..", "..", "tests", "reference"))
import make  # noqa: E402

case = dict(next(c for c in make.CASES if c["name"] == "strip steak, refrigerator"))
minutes = case["at_min"]
case["at_min"] = minutes + [240]
def timed(rtol, atol):
    best, answer = float("inf"), None
    for _ in range(3):
        begun = time.perf_counter()
        answer = make.solve(case, rtol, atol)
        best = min(best, time.perf_counter() - begun)
    return best, answer


# Tolerances like the core's own accuracy, and ten thousand times tighter for the truth.
best, theirs = timed(1e-4, 5e3)
tight, truth = timed(1e-8, 50.0)
ours = json.loads(subprocess.run(
    ["cargo", "run", "--release", "-q", "-p", "hold-steady-core", "--example", "slab_timing"],
    cwd=os.path.join(here, "..", "..", "..", ".."), check=True, capture_output=True, text=True).stdout)
radius, alpha, k, h = 0.0125, 1.4e-7, 0.48, 95.0
exact = [55 - 50 * make.series(0, h * radius / k, alpha * m * 60 / radius**2, 0.0) for m in minutes]
print(f"core      {ours['best_s'] * 1e3:8.3f} ms, {ours['steps']} steps")
print(f"SciPy BDF {best * 1e3:8.1f} ms (rtol 1e-4); {tight * 1e3:.0f} ms (rtol 1e-8)")
print(f"ratio     {best / ours['best_s']:8.0f} (rtol 1e-4), {tight / ours['best_s']:.0f} (rtol 1e-8)")
off = lambda a, b: max(abs(x - y) for x, y in zip(a, b))
print(f"against BDF at rtol 1e-8: core {off(ours['core_c'], truth):.4f} K, BDF at rtol 1e-4 {off(theirs, truth):.4f} K")
print(f"core against the exact series, constant properties: {off(ours['constant_core_c'], exact):.4f} K")
