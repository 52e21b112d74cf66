# Two commands do everything on a machine with Python 3.11, Node 20 and apt: `make demo` and `make test`.
PORT ?= 8130
BIN := .venv/bin
PAGE := $(shell find client/src client/public -type f 2>/dev/null) client/index.html client/vite.config.ts
export PYTHONDONTWRITEBYTECODE :=
MAKEFLAGS += -j2 --no-print-directory
TESTS := $(BIN)/python -W ignore::UserWarning manage.py test

.PHONY: demo test quick soak fuzz check bench setup wheel types screenshots format clean has

demo: .venv/compiling client/dist/index.html ## set up, load the demo, serve it
	@$(BIN)/python -m kagero serve --demo --port $(PORT)

test: setup check ## set up, the browser included, and run every test; ROOM=core.catalog runs one room's
ifdef ROOM
	@$(TESTS) tests.$(ROOM)
else
	@cd client && npm run -s test
	@$(TESTS) tests
endif

quick: .venv/compiling client/node_modules/.package-lock.json ## the tests without a browser: core, server and the client's logic
	@cd client && npm run -s test
	@$(TESTS) tests --exclude-tag browser

soak: setup ## what takes long, with fixed seeds: all of what `make test` runs a share of, every demo effect's fingerprint
	@KAGERO_SOAK=1 $(TESTS) tests --exclude-tag browser
	@$(BIN)/python -m tests.laws.fingerprints

fuzz: setup ## 10,000 requests, 5,000 documents and 1,000 files changed at random, with fixed seeds
	@KAGERO_FUZZ=1 $(TESTS) tests.server.test_fuzz

check: .venv/here client/node_modules/.package-lock.json ## style, formatting and types, of both sides
	@$(BIN)/ruff check -q kagero demo tests bench manage.py
	@$(BIN)/ruff format -q --check kagero demo tests bench manage.py
	@$(BIN)/mypy
	@cd client && npm run -s lint && npm run -s check

bench: setup ## print the benchmark suite; PART=contacts prints one part
	@$(BIN)/python -m bench $(PART)

setup: .venv/ready client/dist/index.html /usr/bin/chromium-headless-shell

has:
	@./.ci/missing

.venv/here: pyproject.toml uv.lock | has
	@echo "Python packages: fetched and installed into .venv"
	@test -x $(BIN)/pip || python3 -m venv .venv
	@test -x $(BIN)/uv || $(BIN)/pip install -q --disable-pip-version-check uv==0.13.9
	@$(BIN)/uv sync -q --locked --inexact
	@touch $@

.venv/compiling: .venv/here ## compile the kernels in the background, while the page is built
	@(nice $(BIN)/python -m kagero.core ready >.venv/compiled.log 2>&1 &)
	@touch $@

.venv/ready: .venv/here ## compile the kernels, while the page is built beside it
	@$(BIN)/python -m kagero.core ready
	@touch $@

client/node_modules/.package-lock.json: client/package.json client/package-lock.json | has
	@echo "The page's packages: fetched and installed into client/node_modules"
	@cd client && npm ci --no-progress --loglevel=error --no-audit --no-fund
	@touch $@

client/dist/index.html: client/node_modules/.package-lock.json $(PAGE)
	@echo "The page: built into client/dist"
	@cd client && npm run -s build -- --logLevel error
	@touch $@

/usr/bin/chromium-headless-shell:
	@echo "Chromium without a window, for the tests in a browser: installed by apt, as root"
	@(apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium-headless-shell) >/dev/null || test -x /usr/bin/chromium

format: .venv/here client/node_modules/.package-lock.json ## put both sides into their format
	@$(BIN)/ruff check -q --fix kagero demo tests bench manage.py
	@$(BIN)/ruff format -q kagero demo tests bench manage.py
	@cd client && npm run -s format

wheel: .venv/here client/dist/index.html ## build the wheel into dist/, with the page, the demo and the handbook in it
	@$(BIN)/python -m hatchling build -t wheel -d dist

types: .venv/here client/node_modules/.package-lock.json ## write the client's types anew from the API
	@$(BIN)/python manage.py write_openapi
	@cd client && npm run -s types

screenshots: setup ## take docs/screenshots from a demo that is being served
	@$(BIN)/python -m demo.screenshots http://localhost:$(PORT)

clean:
	rm -rf .venv client/node_modules client/dist
