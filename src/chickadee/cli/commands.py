"""The commands, their options and their help."""

from __future__ import annotations

from importlib import import_module
from keyword import iskeyword

import click

from .. import __version__
from .names import COMMANDS
from .refusal import Refused

__all__ = ["run"]


class _Commands(click.Group):
    """Loads a command when it is asked for."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        if cmd_name not in COMMANDS:
            return None
        name = f"{cmd_name}_" if iskeyword(cmd_name) else cmd_name
        command: click.Command = getattr(import_module(f".{name}", __package__), name)
        return command


@click.group(cls=_Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="chickadee")
def _chickadee() -> None:
    """Write tunes as names or numbers, see them, hear them, check them and send them out.

    With no command the desk opens; with a FILE it opens on that tune.
    """


def run(words: list[str]) -> int:
    """Run a command from its words and give its exit status. Raises Refused for words that make no sense."""
    try:
        return _chickadee.main(words, prog_name="chickadee", standalone_mode=False) or 0
    except click.ClickException as fault:
        raise Refused(fault.format_message().replace("\n", " ")) from None
    except click.Abort:
        raise KeyboardInterrupt from None
