# Two commands do everything on a fresh machine: `make demo` and `make test`.
PYTHON ?= python3
BIN := .venv/bin
ifeq ($(OS),Windows_NT)
BIN := .venv/Scripts
endif

.PHONY: demo test lint bench fuzz clean

.venv/ready: pyproject.toml
	$(PYTHON) -m venv .venv
	$(BIN)/python -m pip install --quiet --upgrade pip
	$(BIN)/python -m pip install --quiet --editable . --group dev
	touch .venv/ready

demo: .venv/ready
	$(BIN)/oddpeg demo demo-project

test: .venv/ready lint
	$(BIN)/pytest -n auto --cov --cov-report=term

lint: .venv/ready
	$(BIN)/ruff check src tests bench fuzz
	$(BIN)/ruff format --check --quiet src tests bench fuzz
	$(BIN)/mypy
	$(BIN)/lint-imports --no-logo

# TOOLS=DIR names a folder with a generator and a yardstick to run beside the build (see bench/bench.py)
bench: .venv/ready
	$(BIN)/python bench/bench.py $(if $(TOOLS),--tools $(TOOLS)) $(BENCH)
	$(BIN)/python bench/keys.py

# ten minutes in all, with coverage guidance; what is found is written into fuzz-out
SECONDS ?= 200
fuzz: .venv/ready
	$(BIN)/python -m pip install --quiet atheris
	for target in words svg path; do $(BIN)/python fuzz/run.py $$target $(SECONDS); done

clean:
	rm -rf .venv demo-project bench-out fuzz-out
