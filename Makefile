# Two commands do everything on a fresh machine: `make demo` and `make test`.
PYTHON ?= python3
BIN := .venv/bin
ifeq ($(OS),Windows_NT)
BIN := .venv/Scripts
endif

.PHONY: demo test lint bench clean

.venv/ready: pyproject.toml
	$(PYTHON) -m venv .venv
	$(BIN)/python -m pip install --quiet --upgrade pip
	$(BIN)/python -m pip install --quiet --editable . --group dev
	touch .venv/ready

demo: .venv/ready
	$(BIN)/oddpeg demo demo-project

test: .venv/ready lint
	$(BIN)/pytest -n auto

lint: .venv/ready
	$(BIN)/ruff check src tests bench
	$(BIN)/mypy
	$(BIN)/lint-imports --no-logo

# TOOLS=DIR names a folder with a generator and a yardstick to run beside the build (see bench/bench.py)
bench: .venv/ready
	$(BIN)/python bench/bench.py $(if $(TOOLS),--tools $(TOOLS)) $(BENCH)

clean:
	rm -rf .venv demo-project bench-out
