#!/usr/bin/env bash
# Everything that can be said about the code without running it.
set -euo pipefail
cd "$(dirname "$0")/.."
export DJANGO_SETTINGS_MODULE=zigzag_meadow.server.settings
export ZIGZAG_DATA=${ZIGZAG_DATA:-$(mktemp -d)}
bin=.venv/bin
step() { echo "• $1"; shift; "$@"; }
quiet() { local out; out=$("$@" 2>&1) || { echo "$out"; return 1; }; }

step "ruff" $bin/ruff check --quiet .
step "ruff format" $bin/ruff format --quiet --check .
step "mypy" quiet $bin/mypy
step "import contracts" quiet $bin/lint-imports
step "no circle among rooms (make house)" quiet $bin/python docs/house.py
step "migrations" quiet $bin/python -m django makemigrations --check --dry-run

fresh=$(mktemp -d)
$bin/python -m django export_openapi_schema --api zigzag_meadow.server.api.api --sorted --output "$fresh/openapi.json"
$bin/python -m zigzag_meadow.core.readings.table >"$fresh/readings.json"
step "table of readings is current (make types)" diff -q src/zigzag_meadow/core/readings/table.json "$fresh/readings.json"
$bin/python -m zigzag_meadow.core.project.edits.places >"$fresh/places.json"
step "table of places is current (make types)" diff -q frontend/src/document/places.json "$fresh/places.json"
$bin/python -m zigzag_meadow.core.map_name_ts >"$fresh/mapNames.ts"
step "names of maps are current (make types)" diff -q frontend/src/api/mapNames.ts "$fresh/mapNames.ts"
cd frontend
quiet npx openapi-typescript "$fresh/openapi.json" -o "$fresh/schema.d.ts"
step "API types are current (make types)" diff -q src/api/schema.d.ts "$fresh/schema.d.ts"
step "tsc" npx tsc --noEmit
step "eslint" npx eslint .
step "prettier" quiet npx prettier --check .
step "lock file has no addresses" sh -c '! grep -q "\"resolved\"" package-lock.json'
