#!/usr/bin/env bash
# All checks and all tests, the way `make test` runs them: what compiles and computes beside what checks and clicks.
set -euo pipefail
cd "$(dirname "$0")/.."
export ZIGZAG_DATA
ZIGZAG_DATA=$(mktemp -d)
said=$(mktemp)
.venv/bin/pytest -m "not e2e" >"$said" 2>&1 &
computed=$!
finish() {
  [ -z "$computed" ] || { kill "$computed" && wait "$computed"; } 2>/dev/null || true
  rm -rf "$ZIGZAG_DATA" "$said"
}
trap finish EXIT

failed=0
{ ./tests/check.sh && (cd frontend && npx vitest run) && .venv/bin/pytest -m e2e; } || failed=1
wait "$computed" || failed=1
computed=
echo "• core and server"
cat "$said"
exit "$failed"
