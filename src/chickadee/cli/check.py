"""``chickadee check``: what is wrong with some tunes."""

from __future__ import annotations

import json

import click

from ..files import FileFault, printable
from ..sheet import Finding, Reading, Severity
from .status import as_form, opened
from .terminal import say_line

__all__ = ["check"]

_COLOURS = {Severity.ERROR: "red", Severity.WARNING: "yellow", Severity.HINT: "cyan"}


@click.command()
@click.argument("files", metavar="FILE...", nargs=-1, required=True)
@click.option("--json", "as_json", is_flag=True, help="A list of objects instead of lines.")
@as_form
def check(files: tuple[str, ...], as_json: bool, form: str | None) -> int:
    """Say what is wrong with each FILE."""
    found: list[dict[str, object]] = []
    status = 0
    for name in files:
        try:
            reading = opened(name, by_folder=True, form=form)
        except FileFault as fault:
            say_line(f"chickadee: {fault}", err=True)
            status = 2
            continue
        if reading.has_errors:
            status = max(status, 1)
        for finding in reading.findings:
            if as_json:
                found.append(_record(name, reading, finding))
            else:
                click.echo(_line(name, reading, finding))
    if as_json:
        click.echo(json.dumps(found, ensure_ascii=False, indent=2))
    return status


def _line(name: str, reading: Reading, finding: Finding) -> str:
    line, column = reading.place(finding.start)
    severity = click.style(finding.severity.value, fg=_COLOURS[finding.severity])
    return f"{printable(name)}:{line}:{column}: {severity} {finding.code}: {printable(finding.message)}"


def _record(name: str, reading: Reading, finding: Finding) -> dict[str, object]:
    line, column = reading.place(finding.start)
    end_line, end_column = reading.place(finding.end)
    return {
        "file": name,
        "line": line,
        "column": column,
        "end_line": end_line,
        "end_column": end_column,
        "severity": finding.severity.value,
        "code": finding.code,
        "message": finding.message,
        "fixes": [{"title": fix.title} for fix in finding.fixes],
    }
