#!/usr/bin/env bash
# All checks and all tests, the way `make test` runs them: what compiles and computes beside what checks and clicks.
set -euo pipefail
cd "$(dirname "$0")/.."
export ZIGZAG_DATA
ZIGZAG_DATA=$(mktemp -d)
said=$(mktemp)
# What computes is done before what clicks: this file of browser tests is taken off the longer side.
late=tests/e2e/test_kills.py
# Kernels are compiled and textures made once, by whichever side comes first; the other waits for them.
mkdir -p build
prepare="flock build/prepare.lock env ZIGZAG_DATA=build/prepared ZIGZAG_KERNELS=build/kernels \
  .venv/bin/python -m django prepare --settings zigzag_meadow.server.settings"
# A group of its own, so that all of it ends when this does.
# What fails hides nothing of what comes after it.
# With checked bounds only colours, sheets and forms: compiling every kernel anew takes minutes (make checked).
setsid sh -c "$prepare >/dev/null || exit 1; failed=0
  .venv/bin/pytest -m 'not e2e' --durations=10 || failed=1
  (cd frontend && npx vitest run) || failed=1
  ./tests/checked.sh -k every_form || failed=1
  .venv/bin/pytest -m e2e $late || failed=1
  exit \$failed" >"$said" 2>&1 &
computed=$!
finish() {
  [ -z "$computed" ] || { kill -- "-$computed" && wait "$computed"; } 2>/dev/null || true
  rm -rf "$ZIGZAG_DATA" "$said"
}
trap finish EXIT

failed=0
./tests/check.sh || failed=1
{ $prepare >/dev/null && .venv/bin/pytest -m e2e --durations=10 --ignore="$late"; } || failed=1
wait "$computed" || failed=1
computed=
echo "• core, server, components and bad moments"
cat "$said"
exit "$failed"
