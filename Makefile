# Two commands do everything on a machine with Python 3.11, Node 20 and apt: `make demo` and `make test`.
PORT ?= 8130
BIN := .venv/bin
export PYTHONDONTWRITEBYTECODE :=
MAKEFLAGS += -j2

.PHONY: demo test fuzz bench setup types screenshots check format clean

demo: .venv/ready client/dist/index.html ## set up, load the demo, serve it
	@mkdir -p var
	@$(BIN)/python manage.py migrate -v0
	@$(BIN)/python manage.py load_demo
	@echo "Kagero: http://localhost:$(PORT)"
	@$(BIN)/gunicorn -c python:kagero.server.settings.serving kagero.server.settings.wsgi --bind 127.0.0.1:$(PORT)

test: setup check ## set up, the browser included, and run every test
	@cd client && npm run -s test
	@$(BIN)/python -W ignore::UserWarning manage.py test tests

fuzz: setup ## requests, documents and files changed at random, for some minutes
	@KAGERO_FUZZ=20 $(BIN)/python -W ignore::UserWarning manage.py test tests.server.test_fuzz

check: .venv/here client/node_modules/.package-lock.json ## style, formatting and types, of both sides
	@$(BIN)/ruff check -q kagero demo tests bench manage.py
	@$(BIN)/ruff format -q --check kagero demo tests bench manage.py
	@$(BIN)/mypy
	@cd client && npm run -s lint && npm run -s check

bench: setup ## print the benchmark suite
	@$(BIN)/python -m bench.engine
	@$(BIN)/python -m bench.profile
	@$(BIN)/python -m bench.props
	@$(BIN)/python -m bench.births
	@$(BIN)/python -m bench.motion
	@$(BIN)/python -m bench.contacts
	@$(BIN)/python -m bench.looks
	@$(BIN)/python -m bench.solids
	@$(BIN)/python -m bench.finish
	@$(BIN)/python -m bench.shaping
	@$(BIN)/python -m bench.players
	@$(BIN)/python -m bench.browser

setup: .venv/ready client/dist/index.html /usr/bin/chromium

.venv/here: pyproject.toml uv.lock
	@test -x $(BIN)/python || python3 -m venv .venv
	@test -x $(BIN)/uv || $(BIN)/pip install -q --disable-pip-version-check uv==0.13.9
	@$(BIN)/uv sync -q --locked --inexact
	@touch $@

.venv/ready: .venv/here ## compile the kernels, while the client is built beside it
	@$(BIN)/python -m kagero.core ready
	@touch $@

client/node_modules/.package-lock.json: client/package.json client/package-lock.json
	@cd client && npm ci --no-progress --loglevel=error
	@touch $@

client/dist/index.html: client/node_modules/.package-lock.json $(shell find client/src client/public -type f 2>/dev/null) client/index.html client/vite.config.ts
	@cd client && npm run -s build -- --logLevel error
	@touch $@

/usr/bin/chromium:
	@(apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium) >/dev/null

format: .venv/here client/node_modules/.package-lock.json ## put both sides into their format
	@$(BIN)/ruff check -q --fix kagero demo tests bench manage.py
	@$(BIN)/ruff format -q kagero demo tests bench manage.py
	@cd client && npm run -s format

types: .venv/here client/node_modules/.package-lock.json ## write the client's types anew from the API
	@$(BIN)/python manage.py write_openapi
	@cd client && npm run -s types

screenshots: setup ## take docs/screenshots from a demo that is being served
	@$(BIN)/python -m demo.screenshots http://localhost:$(PORT)

clean:
	rm -rf .venv client/node_modules client/dist
