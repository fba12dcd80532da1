# Two targets set everything up by themselves: `make demo` and `make test`.
PYTHON ?= python3
VENV := .venv
BIN := $(VENV)/bin
READY := $(VENV)/.ready

.PHONY: demo test coverage lint man bench kills mutants clean

$(READY): pyproject.toml
	$(PYTHON) -m venv $(VENV)
	$(BIN)/pip install --quiet --disable-pip-version-check --editable '.[dev]'
	@touch $@

demo: $(READY)
	$(BIN)/metrograph demo demo-logbook --force

TESTS := $(BIN)/unittest-parallel --quiet --level class --start-directory tests --top-level-directory .

test: $(READY)
	PYTHONWARNINGS=error $(TESTS)

# The same tests once more, watched line by line; each class in a process of its own, as only that tells what it has seen when it ends.
coverage: $(READY)
	$(BIN)/coverage erase
	PYTHONWARNINGS=error $(BIN)/coverage run $(TESTS) --disable-process-pooling
	$(BIN)/coverage combine --quiet
	$(BIN)/coverage report

man: $(READY)
	$(BIN)/python -m metrograph.faces.cli.manual > docs/metrograph.1

lint: $(READY)
	$(BIN)/ruff check .
	$(BIN)/ruff format --check .
	$(BIN)/mypy
	$(BIN)/lint-imports

bench: $(READY)
	$(BIN)/pip install --quiet --disable-pip-version-check --editable '.[bench]'
	$(BIN)/python -m bench

kills: $(READY)
	$(BIN)/python -m bench.kills

# Breaks the code in a hundred places of each room, one at a time: the tests have to find four in five.
mutants: $(READY)
	$(BIN)/pip install --quiet --disable-pip-version-check --editable '.[mutants]'
	$(BIN)/python -m bench.mutants

clean:
	rm -rf $(VENV) demo-logbook .coverage .coverage.* build dist
