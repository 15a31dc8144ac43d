PYTHON := .venv/bin/python
.PHONY: setup demo test bench hard shots lint ideas-report teach statements mutants size install uninstall

setup:                ## make .venv and install whatever is missing
	@scripts/setup.sh

demo: setup           ## open the desk on the Lake Orrin shelf
	@$(PYTHON) -P -m chickadee demo

test: setup lint      ## lint, types, the import contract and every test, in any order and two at a time
	@$(PYTHON) -m pytest -n 2 --dist loadfile

lint: setup
	@.venv/bin/ruff check -q src tests benchmarks scripts teaching
	@.venv/bin/ruff format -q --check src tests benchmarks scripts teaching
	@.venv/bin/mypy
	@.venv/bin/lint-imports --no-logo
	@$(PYTHON) scripts/house_rules.py
	@$(PYTHON) scripts/reference.py --check
	@scripts/lint_page.sh

bench: setup          ## print the numbers that bind
	@$(PYTHON) benchmarks/run.py

hard: setup           ## a campaign of faults of three quarters of an hour; PART=0.5 for half of it, STAGES="doors window" for some
	@PYTHONPATH=benchmarks $(PYTHON) -P -m hard --part $(or $(PART),1) $(STAGES)

shots: setup          ## take the pictures in docs/screenshots again
	@$(PYTHON) scripts/shots.py

ideas-report: setup   ## what a thousand practice tunes of each recipe are like
	@$(PYTHON) scripts/ideas_report.py

teach: setup          ## teach the network that says where notes begin anew: an hour and a quarter, with the sound fonts of teaching/sound_font.py
	@$(PYTHON) teaching/teach.py

statements: setup     ## how statements are written, beside what well-kept libraries do
	@$(PYTHON) scripts/statements.py

mutants: setup        ## break the code of ROOM on purpose, COUNT times, and name what its tests do not notice
	@$(PYTHON) scripts/mutants.py $(ROOM) --count $(or $(COUNT),20) --seed $(or $(SEED),1)

size: setup           ## how much of the Python is tests
	@$(PYTHON) scripts/size.py

install:              ## put Chickadee into the desktop's menu (PREFIX chooses where, ~/.local by default)
	@scripts/install.sh

uninstall:            ## take it out again
	@scripts/install.sh remove
