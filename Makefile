# `make demo` and `make test` are all that a fresh machine needs; both begin with `make setup`.
SHELL := /bin/bash
PYTHON ?= python3
BIN := .venv/bin
PORT ?= 8765
PINNED_TODAY := 2027-03-01
INTERFACE_SOURCES := $(shell find web/src web/public -type f 2>/dev/null) web/index.html web/vite.config.ts web/package-lock.json

.PHONY: setup demo dev test test-core worked test-all lint client client-check screenshots wheel bench chromium

setup: .stamps/python .stamps/interface

.stamps/python: requirements/locked.txt pyproject.toml
	@mkdir -p .stamps
	$(PYTHON) -m venv .venv
	$(BIN)/pip install --quiet --disable-pip-version-check -r requirements/locked.txt
	$(BIN)/pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@touch $@

.stamps/node: web/package.json web/package-lock.json
	@mkdir -p .stamps
	cd web && npm ci --no-audit --no-fund --loglevel=error
	@touch $@

.stamps/interface: .stamps/node $(INTERFACE_SOURCES)
	cd web && npm run --silent build -- --logLevel warn
	@touch $@

demo: setup
	$(BIN)/next-penny demo --port $(PORT)

# The API with reload on $(PORT), and Vite on 5173.
dev: setup
	@trap 'kill 0' EXIT; \
	NEXT_PENNY_FILE=$${NEXT_PENNY_FILE:-/tmp/next-penny-dev.sqlite3} $(BIN)/uvicorn --factory next_penny.api.development:app --reload --reload-dir src --port $(PORT) & \
	cd web && npx vite

chromium:
	@scripts/ensure-chromium

test: setup chromium
	cd web && npm run --silent test
	# A browser waits as often as it works: three share two cores.
	$(BIN)/pytest -n 3 -m "not slow"

# The core's own tests, on one core in under a minute: for every save.
test-core: .stamps/python
	NEXT_PENNY_EFFORT=15 $(BIN)/pytest -n 0 -m "not slow" tests/core

# The worked tables written anew, to be read line by line before they are committed.
worked: .stamps/python
	NEXT_PENNY_WORKED=write $(BIN)/pytest -n 2 tests/core/test_worked_households.py tests/core/test_worked_loans.py
	git diff --stat tests/core/worked_tables

test-all: setup chromium
	cd web && npm run --silent test
	NEXT_PENNY_EFFORT=100 $(BIN)/pytest -n 2

lint: .stamps/python .stamps/node
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports
	cd web && npm run --silent check

client: .stamps/python .stamps/node
	$(BIN)/python -m next_penny.api.openapi > web/openapi.json
	$(BIN)/python -m next_penny.formats.schema > docs/plan-schema.json
	cd web && npm run --silent client
	# Written only where it is another: the interface is built anew from what is newer.
	cmp -s web/openapi.d.ts web/src/shared/api/schema.d.ts || cp web/openapi.d.ts web/src/shared/api/schema.d.ts

# The committed client and schema must be what the API and the plan document are.
client-check: client
	git diff --exit-code -- web/src/shared/api/schema.d.ts docs/plan-schema.json

screenshots: setup chromium
	$(BIN)/python scripts/screenshots.py --today $(PINNED_TODAY)

wheel: setup
	$(BIN)/pip wheel --quiet --no-deps --no-build-isolation --wheel-dir dist .

bench: setup chromium
	$(BIN)/python benchmarks/forecast.py
	$(BIN)/python benchmarks/payoff.py
	$(BIN)/python benchmarks/backups.py
	$(BIN)/python benchmarks/load.py
	$(BIN)/python benchmarks/bank_lines.py
	$(BIN)/python benchmarks/chances.py
	$(BIN)/python benchmarks/sentences.py
	$(BIN)/python benchmarks/browser.py
