#!/usr/bin/env bash
# All checks and all tests, the way `make test` runs them: three things beside one another, as journeys through the
# pages mostly wait. What fails hides nothing of what comes after it.
set -euo pipefail
cd "$(dirname "$0")/.."
export ZIGZAG_DATA
ZIGZAG_DATA=$(mktemp -d)
said=$(mktemp -d)
# Journeys on either side, on an application of their own; what both take is about as long.
first="delivery_journeys everybody fit_journeys journeys recovery"
theirs=() others=()
for name in $first; do
  theirs+=("tests/e2e/test_$name.py")
  others+=("--ignore=tests/e2e/test_$name.py")
done
export NAMED="${theirs[*]}" OTHERS="${others[*]}"
# Kernels are compiled and textures made once, by whoever comes first; the others wait for them.
mkdir -p build
export PREPARE="flock build/prepare.lock env ZIGZAG_DATA=build/prepared ZIGZAG_KERNELS=build/kernels \
  .venv/bin/python -m django prepare --settings zigzag_meadow.server.settings"
# Groups of their own, so that all of them end when this does.
# With checked bounds only colours, sheets and forms: compiling every kernel anew takes minutes (make checked).
setsid sh -c '$PREPARE >/dev/null || exit 1; failed=0
  .venv/bin/pytest tests/core --durations=10 || failed=1
  exit $failed' >"$said/computed" 2>&1 &
computed=$!
setsid sh -c 'failed=0
  (cd frontend && npx vitest run) || failed=1
  { $PREPARE >/dev/null && .venv/bin/pytest -m e2e --durations=5 tests/e2e $OTHERS; } || failed=1
  ./tests/checked.sh -k every_form || failed=1
  exit $failed' >"$said/clicked" 2>&1 &
clicked=$!
finish() {
  for group in $computed $clicked; do
    { kill -- "-$group" && wait "$group"; } 2>/dev/null || true
  done
  rm -rf "$ZIGZAG_DATA" "$said"
}
trap finish EXIT

failed=0
./tests/check.sh || failed=1
{ $PREPARE >/dev/null && .venv/bin/pytest -m e2e --durations=5 $NAMED; } || failed=1
echo "• server"
.venv/bin/pytest -m "not e2e" --ignore=tests/core --durations=5 || failed=1
wait "$clicked" || failed=1
clicked=
echo "• components, other journeys and checked bounds"
cat "$said/clicked"
wait "$computed" || failed=1
computed=
echo "• core"
cat "$said/computed"
exit "$failed"
