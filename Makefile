# Two commands do everything on a fresh machine: `make demo` and `make test`.
PYTHON ?= python3
BIN := .venv/bin
# plugins that happen to be installed beside ours change nothing; a file's tests share what they build
PYTEST := PYTEST_DISABLE_PLUGIN_AUTOLOAD=1 $(BIN)/pytest -p xdist -p _hypothesis_pytestplugin -n auto --dist loadfile
ifeq ($(OS),Windows_NT)
BIN := .venv/Scripts
endif

.PHONY: demo test unit test-clients coverage lint docs bench bench-large bench-usage fuzz fuzz-browser mutants test-oldest test-python clean

.venv/ready: pyproject.toml
	$(PYTHON) -m venv .venv
	$(BIN)/python -m pip install --quiet --upgrade pip
	$(BIN)/python -m pip install --quiet --editable . --group dev
	touch .venv/ready

# a font validator, apart: it needs other versions of what the tests use
.venv-validator/ready: pyproject.toml
	$(PYTHON) -m venv .venv-validator
	.venv-validator/bin/python -m pip install --quiet --upgrade pip
	.venv-validator/bin/python -m pip install --quiet --group validator
	touch .venv-validator/ready

demo: .venv/ready
	$(BIN)/oddpeg demo demo-project

# what a contributor needs after a change; asks for nothing but Python. With COVERAGE=1 it holds the floor of coverage too
test: .venv/ready
	$(MAKE) --no-print-directory -j 2 lint unit

unit: .venv/ready
ifdef COVERAGE
	$(MAKE) --no-print-directory coverage
	$(PYTEST) -m "exhaustive and not clients"
else
	$(PYTEST) -m "not clients"
endif

# the rest: generated code and fonts in browsers, compilers, package managers; what is missing skips, or fails where
# ODDPEG_REQUIRE_CLIENTS=1 (.ci/run installs all of it)
test-clients: .venv/ready
	$(PYTEST) -m clients --no-loadscope-reorder  # files with few but long tests are not kept for the end

# branch coverage of `make test`, and its floor
coverage: .venv/ready
	COVERAGE_FILE=$(CURDIR)/.coverage $(PYTEST) -m "not clients and not exhaustive" -p pytest_cov --cov --cov-report=term

lint: .venv/ready
	$(BIN)/ruff check src tests bench fuzz tools
	$(BIN)/ruff format --check --quiet src tests bench fuzz tools
	$(BIN)/mypy
	$(BIN)/lint-imports --no-logo

# the tables of the reference from the declarations, spelling, wording, then every page as a site in build/docs; a dead
# link is an error
docs: .venv/ready
	$(BIN)/python -m pip install --quiet --group docs
	$(BIN)/python tools/reference_tables.py
	$(BIN)/python tools/document_schema.py
	$(BIN)/python tools/output_pages.py
	$(BIN)/codespell README.md CONTRIBUTING.md docs src/oddpeg
	$(BIN)/python tools/prose.py
	$(BIN)/mkdocs build --strict --quiet

# changes the code in small ways and counts which changes neither strict typing nor a test notices; hours for all, so name
# a module to begin with (the type check alone takes ten minutes the first time):
# make mutants MUTANTS="oddpeg.pegboard.codes*"
mutants: .venv/ready
	$(BIN)/python -m pip install --quiet --group mutants
	PATH="$(CURDIR)/$(BIN):$$PATH" $(BIN)/mutmut run $(MUTANTS)
	$(BIN)/mutmut results

# the suite against the oldest version of every dependency that pyproject.toml allows
test-oldest:
	$(PYTHON) -m venv .venv-oldest
	.venv-oldest/bin/python -m pip install --quiet --upgrade pip uv
	.venv-oldest/bin/uv pip install --quiet --python .venv-oldest/bin/python --resolution lowest-direct --editable . --group dev
	.venv-oldest/bin/pytest -n auto -m "not clients"

# the suite on another Python: make test-python VERSION=3.13
VERSION ?= 3.12
test-python:
	python$(VERSION) -m venv .venv-$(VERSION)
	.venv-$(VERSION)/bin/python -m pip install --quiet --upgrade pip
	.venv-$(VERSION)/bin/python -m pip install --quiet --editable . --group dev
	.venv-$(VERSION)/bin/pytest -n auto -m "not clients"

# TOOLS=DIR names a folder with a generator and a yardstick to run beside the build (see bench/bench.py)
bench: .venv/ready
	$(BIN)/python bench/bench.py $(if $(TOOLS),--tools $(TOOLS)) $(BENCH)
	$(BIN)/python bench/keys.py
	$(BIN)/python bench/axis.py

# 2,000 and 20,000 icons: time, memory, growth
bench-large: .venv/ready
	$(BIN)/python bench/large.py $(if $(TOOLS),--tools $(TOOLS)) $(BENCH)

# a corpus of code with known answers: precision, recall, time, memory
bench-usage: .venv/ready
	$(BIN)/python bench/usage.py $(BENCH)

# ten minutes in all, with coverage guidance; what is found is written into fuzz-out
SECONDS ?= 150
fuzz: .venv/ready
	$(BIN)/python -m pip install --quiet atheris
	for target in words svg path; do $(BIN)/python fuzz/run.py $$target $(SECONDS); done
	$(BIN)/python fuzz/mixtures.py $(SEED) 1000000 $(SECONDS)

# drawings made up from the grammar of SVG and CSS, against Chromium: SEED is the first of COUNT
SEED ?= 0
COUNT ?= 1000
fuzz-browser: .venv/ready
	$(BIN)/python -m pip install --quiet --group clients
	$(BIN)/python fuzz/in_browser.py $(SEED) $(COUNT) $(COLOURS)

clean:
	rm -rf .venv .venv-* build mutants demo-project bench-out fuzz-out
