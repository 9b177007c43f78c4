# Ink Thread: everything is set up by the targets themselves.
SHELL := /bin/bash
PYTHON ?= python3
PORT ?= 8137
WORKERS ?= 2
FUZZ ?= 120
VENV := .venv
BIN := $(VENV)/bin
STAMPS := .stamps
STATIC := src/inkthread/web/static/index.html
SCREEN_SOURCES := $(shell find frontend/src frontend/generated frontend/public frontend/index.html frontend/vite.config.ts frontend/tsconfig.json -type f 2>/dev/null)

TWO := $(MAKE) --no-print-directory --silent -j2

.PHONY: setup demo demo-reset serve test lint lint-core lint-screens types screenshots bench quick mutants \
	format clean chromium licences fuzz faults

# Python and the screens beside each other.
setup:
	@$(TWO) $(STAMPS)/python $(STATIC)

$(STAMPS)/python: requirements/run.txt requirements/dev.txt requirements/lock.txt pyproject.toml
	@bash tools/venv.sh $(PYTHON) $(VENV)
	$(BIN)/python -m pip install --quiet --disable-pip-version-check -r requirements/dev.txt -c requirements/lock.txt
	$(BIN)/python -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
	@mkdir -p $(STAMPS) && touch $@

$(STAMPS)/node: frontend/package.json frontend/package-lock.json
	@command -v npm >/dev/null || { echo "Node 20 with npm is needed: install it, then run make again."; exit 1; }
	cd frontend && npm ci --no-fund --no-audit --loglevel=error
	@mkdir -p $(STAMPS) && touch $@

$(STATIC): $(STAMPS)/node $(SCREEN_SOURCES)
	cd frontend && npm run --silent build
	@touch $@

demo: setup
	$(BIN)/inkthread demo --port $(PORT)

demo-reset: setup
	$(BIN)/inkthread demo --reset --seed-only

serve: setup
	$(BIN)/inkthread serve --port $(PORT)

chromium:
	@bash tools/chromium.sh

lint: setup $(STAMPS)/node
	@$(TWO) lint-core lint-screens

lint-core:
	$(BIN)/ruff check src tests tools
	$(BIN)/ruff format --check src tests tools
	$(BIN)/mypy

lint-screens:
	cd frontend && npm run --silent check && npm run --silent lint && npm run --silent unit

test: chromium lint
	$(BIN)/python -m pytest tests -n $(WORKERS) --dist worksteal

quick: $(STAMPS)/python
	$(BIN)/python -m pytest tests/core tests/reference -n $(WORKERS) --dist worksteal -m "not slow"

mutants: $(STAMPS)/python
	$(BIN)/python -m tools.mutants $(ROOMS)

bench: setup chromium
	$(BIN)/python -m tools.bench

# Calls of every sort for a while, and random edits: FUZZ=600 for ten minutes.
fuzz: setup
	$(BIN)/python -m tools.fuzz $(FUZZ)

# Kills, malformed files, many windows: what must hold whatever happens. Takes a while.
faults: setup
	$(BIN)/python -m tools.faults

licences: setup
	$(BIN)/python -m tools.licences

screenshots: setup chromium
	$(BIN)/python -m tools.screenshots

types: $(STAMPS)/python $(STAMPS)/node
	$(BIN)/python -m tools.contracts
	cd frontend && npm run --silent types

format: $(STAMPS)/python $(STAMPS)/node
	$(BIN)/ruff check --fix src tests tools
	$(BIN)/ruff format src tests tools
	cd frontend && npm run --silent format

clean:
	rm -rf $(VENV) $(STAMPS) frontend/node_modules src/inkthread/web/static
