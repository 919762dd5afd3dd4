#!/usr/bin/env bash
# The core with kernels that check their bounds, on grounds whose last tile is a sliver: `make checked` runs all of it.
set -euo pipefail
cd "$(dirname "$0")/.."
mkdir -p build
NUMBA_BOUNDSCHECK=1 NUMBA_OPT=1 ZIGZAG_KERNELS=build/kernels .venv/bin/pytest tests/checked "$@"
