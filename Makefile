# Everything from a clean checkout: make demo, make test.
PYTHON ?= python3
# What is compiled once is kept: each of the tests' workers would compile them all by itself.
export PYTHONDONTWRITEBYTECODE :=
VENV := .venv
BIN := $(VENV)/bin
READY := $(VENV)/.ready
WARM := $(VENV)/.warm

.PHONY: thorough fuzz install uninstall wheel deb help-pictures setup demo test checks lint types imports compiled unit bench screenshots picture formats fold-table nest-table built-table shapes-table details clean

setup: $(READY) $(WARM)

$(READY): requirements.lock pyproject.toml tools/setup.sh
	PYTHON=$(PYTHON) VENV=$(VENV) bash tools/setup.sh
	touch $@

# The compiled search, so that the first cutting plan is not the slow one.
$(WARM): $(READY) src/yattle/coil/compiled.py
	$(BIN)/python -c 'from time import perf_counter as now; from yattle.coil.warm import ready; assert ready(now() + 600)'
	touch $@

demo: setup
	bash tools/demo.sh $(BIN)

test: checks
	$(MAKE) --no-print-directory -j2 types unit

# What needs one processor each goes on two of them.
checks: $(READY)
	$(MAKE) --no-print-directory -j2 -O $(WARM) lint imports compiled

lint: $(READY)
	$(BIN)/ruff check src tests benchmarks tools

types: $(READY)
	$(BIN)/mypy

imports: $(READY)
	$(BIN)/lint-imports --no-logo

# The tests compiled once for all workers.
compiled: $(READY)
	QT_QPA_PLATFORM=offscreen $(BIN)/pytest --collect-only -qq > /dev/null

unit: setup
	QT_QPA_PLATFORM=offscreen $(BIN)/pytest -n 3 --dist worksteal --benchmark-disable

# Every case of every sweep; `make test` takes a part of them.
thorough: setup
	THOROUGH=1 QT_QPA_PLATFORM=offscreen $(BIN)/pytest -n 3 --dist worksteal --benchmark-disable

bench: setup
	QT_QPA_PLATFORM=offscreen $(BIN)/pytest benchmarks --benchmark-only --no-header -p no:xdist -o addopts=""

# Input changed at random: verbs, files, devices; COUNT cases of each, within 4 GB. What went wrong is kept in build/fuzz.
COUNT ?= 200
fuzz: setup
	ulimit -v 4000000; $(BIN)/python tools/fuzz.py $(COUNT)

screenshots: setup
	QT_QPA_PLATFORM=offscreen $(BIN)/python tools/screenshots.py docs/screenshots

picture: setup
	mkdir -p build
	QT_QPA_PLATFORM=offscreen $(BIN)/python tools/screenshots.py build trim-light
	@echo "build/trim-light.png shows the window"

formats: setup
	$(BIN)/python tools/formats.py docs/formats

details: setup
	$(BIN)/python tools/detail_pages.py docs/details
	$(BIN)/python tools/schools_page.py docs/schools.md

# For the one who runs it: the program, its entry in the desktop's menu, icon, file type. PREFIX=… for elsewhere.
install:
	PYTHON=$(PYTHON) bash tools/install.sh put

uninstall:
	bash tools/install.sh away

wheel:
	bash tools/wheel.sh dist

deb:
	bash tools/deb.sh dist

help-pictures: setup
	QT_QPA_PLATFORM=offscreen $(BIN)/python tools/help_pictures.py src/yattle/help/pictures

clean:
	rm -rf $(VENV) build .pytest_cache .mypy_cache .ruff_cache .hypothesis .import_linter_cache

built-table: setup
	$(BIN)/python tools/built_page.py docs/built.md

nest-table: setup
	$(BIN)/python tools/nest_table.py docs/nesting.md

shapes-table: setup
	$(BIN)/python tools/shapes_table.py docs/true-shapes.md

fold-table: setup
	$(BIN)/python tools/fold_table.py docs/fold-orders.md
