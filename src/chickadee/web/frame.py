"""A page that plays inside another one, such as a notebook: in a frame that can reach nothing of it."""

from __future__ import annotations

from html import escape

from ..checks import reading_of
from ..faults import InputFault
from ..sheet import Reading
from ..song import Song
from .page import PageChoices, playing_page
from .timeline import text

__all__ = ["framed"]

_HEIGHT = 560  # pixels
_MOST_FINDINGS = 20


def framed(tune: Reading | Song) -> str:
    """A tune's page in a frame, and the findings under it; what cannot be a page is said in a sentence."""
    try:
        page = playing_page(reading_of(tune), PageChoices(keyboard=False, print_pages=False))
    except InputFault as fault:
        shown = f"<p>{text(str(fault))}</p>"
    else:
        shown = (
            f'<iframe sandbox="allow-scripts" allow="autoplay" style="width:100%;height:{_HEIGHT}px;border:0" '
            f'srcdoc="{escape(page)}"></iframe>'
        )
    return shown + (_findings(tune) if isinstance(tune, Reading) else "")


def _findings(reading: Reading) -> str:
    if not reading.findings:
        return ""
    rows = []
    for finding in reading.findings[:_MOST_FINDINGS]:
        line, column = reading.place(finding.start)
        rows.append(f"<li>{finding.severity.value}, line {line}, column {column}: {text(finding.message)}</li>")
    more = len(reading.findings) - len(rows)
    if more:
        rows.append(f"<li>and {more} more</li>")
    return f"<ul>{''.join(rows)}</ul>"
