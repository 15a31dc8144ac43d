"""What tests of commands share."""

from __future__ import annotations

import pytest

from chickadee.cli.main import main


@pytest.fixture
def run(capsys):
    """Run a command in this process: (status, standard output, standard error)."""

    def run_(*arguments):
        with pytest.raises(SystemExit) as end:
            main([str(argument) for argument in arguments])
        out, err = capsys.readouterr()
        assert "Traceback" not in err
        return end.value.code, out, err

    return run_
