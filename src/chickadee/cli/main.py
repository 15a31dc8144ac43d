"""The command ``chickadee``: opens the desk, or runs one of its commands."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from importlib import import_module

import click

from .. import __version__
from ..files import FileFault
from .open import open_desk
from .refusal import Refused

__all__ = ["main"]

_COMMANDS = ("check", "demo", "notes", "play", "render", "tidy", "transpose")
"""Each is a function in the module of its name, which is loaded when it is used: the desk waits for none of them."""


class _Commands(click.Group):
    """The commands; a first word that is none of them is a tune to open in the desk."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(_COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        if cmd_name not in _COMMANDS:
            return None
        command: click.Command = getattr(import_module(f".{cmd_name}", __package__), cmd_name)
        return command

    def resolve_command(
        self, ctx: click.Context, args: list[str]
    ) -> tuple[str | None, click.Command | None, list[str]]:
        if args and args[0] not in _COMMANDS:
            return "open", open_desk, args
        return super().resolve_command(ctx, args)


@click.group(cls=_Commands, invoke_without_command=True, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="chickadee")
@click.pass_context
def _chickadee(context: click.Context) -> None:
    """Write tunes as names or numbers, see them, hear them, check them and send them out.

    With no command the desk opens; with a FILE it opens on that tune.
    """
    if context.invoked_subcommand is None:
        context.invoke(open_desk)


def main(arguments: Sequence[str] | None = None) -> None:
    """Run the command and end the process: 0 done, 1 the music has errors, 2 it could not be carried out."""
    try:
        status = _chickadee.main(arguments, prog_name="chickadee", standalone_mode=False)
        sys.stdout.flush()
    except click.ClickException as fault:
        _refuse(fault.format_message().replace("\n", " "))
    except (FileFault, Refused) as fault:
        _refuse(str(fault))
    except (click.Abort, KeyboardInterrupt):
        sys.exit(130)
    except BrokenPipeError:
        sys.stderr.close()  # whoever read our output has enough
        sys.exit(0)
    sys.exit(status or 0)


def _refuse(sentence: str) -> None:
    click.echo(f"chickadee: {sentence}", err=True)
    sys.exit(2)
