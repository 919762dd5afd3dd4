# Two commands do everything: `make demo` and `make test`.
PYTHON ?= python3.11
BIN := .venv/bin
SETTINGS := DJANGO_SETTINGS_MODULE=zigzag_meadow.server.settings
export PIP_DISABLE_PIP_VERSION_CHECK := 1
# What Python needs and what the pages need come side by side.
MAKEFLAGS += --jobs=2

.PHONY: demo test setup build check checked types bench mutate kept house dev clean

demo: build
	$(BIN)/zigzag serve --demo

test: build .venv/.tools
	./tests/run.sh

setup: .venv/.installed frontend/node_modules/.installed

build: setup frontend/dist/index.html

.venv/.installed: pyproject.toml constraints.txt
	test -x $(BIN)/python || $(PYTHON) -m venv .venv
	$(BIN)/pip install --quiet --editable '.[dev]' --constraint constraints.txt
	touch $@

frontend/node_modules/.installed: frontend/package-lock.json
	cd frontend && npm ci --no-fund --no-audit --loglevel error
	touch $@

frontend/dist/index.html: frontend/node_modules/.installed frontend/index.html frontend/vite.config.ts $(shell find frontend/src frontend/public -type f 2>/dev/null)
	cd frontend && npx vite build --logLevel warn
	touch $@

.venv/.tools: | .venv/.installed
	./tests/tools.sh
	touch $@

types: .venv/.installed frontend/node_modules/.installed
	$(BIN)/python -m zigzag_meadow.core.readings.table > src/zigzag_meadow/core/readings/table.json
	$(BIN)/python -m zigzag_meadow.core.map_name_ts > frontend/src/api/mapNames.ts
	$(BIN)/python -m zigzag_meadow.core.project.edits.places > frontend/src/document/places.json
	mkdir -p build
	$(SETTINGS) $(BIN)/python -m django export_openapi_schema --api zigzag_meadow.server.api.api --sorted --output build/openapi.json
	cd frontend && npm run --silent types

check: setup
	./tests/check.sh

checked: setup
	./tests/checked.sh

bench: build
	$(BIN)/python bench/run.py $(PART)

house: setup
	$(BIN)/python docs/house.py > docs/house.svg

mutate: setup
	test -f build/near.json || $(BIN)/python -m tests.near
	$(BIN)/python -m tests.mutate $(FILES) --count $(or $(COUNT),60) --seed $(or $(SEED),1)

kept: setup
	$(BIN)/python -m tests.support.kept_values
	$(SETTINGS) $(BIN)/python -m tests.support.kept_words

dev: setup
	ZIGZAG_DEV=1 $(BIN)/zigzag serve --demo & cd frontend && npx vite; wait

clean:
	rm -rf .venv frontend/node_modules frontend/dist
