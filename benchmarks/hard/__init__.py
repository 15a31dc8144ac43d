"""A campaign of faults: ``make hard``. What it promises is in docs/reliability.md."""
