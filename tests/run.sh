#!/usr/bin/env bash
# All checks and all tests, the way `make test` runs them.
set -euo pipefail
cd "$(dirname "$0")/.."
export ZIGZAG_DATA
ZIGZAG_DATA=$(mktemp -d)
trap 'rm -rf "$ZIGZAG_DATA"' EXIT
./tests/check.sh
(cd frontend && npx vitest run)
.venv/bin/pytest
