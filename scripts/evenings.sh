#!/usr/bin/env bash
# Ten thousand random evenings beside the independent reading, ten thousand traces against the maximum principle, and a
# thousand evenings of thermostats; prints the tables. The evenings take some forty minutes on two cores, the rest as long again.
set -euo pipefail
cd "$(dirname "$0")/.."
evenings() { HOLD_STEADY_SEED="$1" HOLD_STEADY_EVENINGS="$2" cargo test --release -p hold-steady --test all evenings:: -- --nocapture; }
cargo test --release -p hold-steady --test all --no-run
# Half of them from another seed, on the other core.
half=$((${1:-10000} / 2))
evenings 1 "$half" & first=$!
evenings 2 "$half" & second=$!
wait "$first"
wait "$second"
HOLD_STEADY_TRACES="${1:-10000}" cargo test --release -p hold-steady-core --test all bounds:: -- --nocapture
HOLD_STEADY_EVENINGS=1000 cargo test --release -p hold-steady-core --test all falling:: -- --nocapture
