#!/usr/bin/env bash
# All checks and all tests, the way `make test` runs them. Browser tests wait more than they compute: two lots of them
# run beside what computes, each on an application of its own, as soon as the checks are done.
set -euo pipefail
cd "$(dirname "$0")/.."
export ZIGZAG_DATA
ZIGZAG_DATA=$(mktemp -d)
said=$(mktemp -d)
# About half of the time that all browser tests take; the other lot is whatever is not named here.
second=(tests/e2e/test_{kills,load,recovery,delivery_journeys,everybody}.py)
groups=()
# A group of its own, so that all of it ends when this does.
beside() {
  setsid sh -c "$2" >"$said/$1" 2>&1 &
  groups+=("$!")
}
finish() {
  for group in "${groups[@]}"; do { kill -- "-$group" && wait "$group"; } 2>/dev/null || true; done
  rm -rf "$ZIGZAG_DATA" "$said"
}
trap finish EXIT

failed=0
beside computed '.venv/bin/pytest -m "not e2e" && cd frontend && npx vitest run'
if ./tests/check.sh; then
  beside second ".venv/bin/pytest -m e2e ${second[*]}"
  .venv/bin/pytest -m e2e "${second[@]/#/--ignore=}" || failed=1
else
  failed=1
fi
for group in "${groups[@]}"; do wait "$group" || failed=1; done
groups=()
for lot in "$said"/*; do
  echo "• $(basename "$lot")"
  cat "$lot"
done
exit "$failed"
