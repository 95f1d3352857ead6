#!/usr/bin/env bash
# Ten thousand random evenings beside the independent reading, ten thousand traces against the maximum principle, and a
# thousand evenings of thermostats; prints the tables. Takes about an hour on two cores.
set -euo pipefail
cd "$(dirname "$0")/.."
HOLD_STEADY_EVENINGS="${1:-10000}" cargo test --release -p hold-steady --test evenings -- --nocapture
HOLD_STEADY_TRACES="${1:-10000}" cargo test --release -p hold-steady-core --test bounds -- --nocapture
HOLD_STEADY_EVENINGS=1000 cargo test --release -p hold-steady-core --test falling -- --nocapture
