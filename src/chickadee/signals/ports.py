"""The system's MIDI ports, through python-rtmidi where it is installed."""

from __future__ import annotations

from importlib import import_module
from typing import Any

from ..faults import InputFault

__all__ = ["INPUTS", "OUTPUTS", "opened", "port_names"]

INPUTS = "MidiIn"
OUTPUTS = "MidiOut"


def port_names(kind: str) -> list[str]:
    """The names of the system's inputs, or outputs; none where it has none, or python-rtmidi is not installed."""
    try:
        return list(getattr(import_module("rtmidi"), kind)().get_ports())
    except Exception:  # rtmidi raises its own where the system has no MIDI at all
        return []


def opened(kind: str, name: str) -> Any:
    """The input, or output, with a name or a part of it, opened. Raises InputFault where there is none."""
    try:
        port = getattr(import_module("rtmidi"), kind)()
        names = port.get_ports()
    except ImportError:
        raise InputFault("MIDI ports need python-rtmidi, which is not installed.") from None
    except Exception:  # as above
        raise InputFault("This system has no MIDI ports.") from None
    partly = (place for place, each in enumerate(names) if name.lower() in each.lower())
    place = names.index(name) if name in names else next(partly, None)
    if place is None:
        raise InputFault(f"{name}: there is no such MIDI port; there are {', '.join(names) or 'none'}.")
    port.open_port(place)
    return port
