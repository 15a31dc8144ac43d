"""The user's sound server, spoken to in its own protocol's client library, libpulse.

A stream of the server's can hold seconds of sound and still be changed at once: what has not left the server yet may
be written over. So a machine that stands still for a second is not heard, and yet an edit is heard at once.
"""

from __future__ import annotations

import ctypes
import os
import time
from collections.abc import Callable
from ctypes import CDLL, POINTER, Structure, byref, c_char_p, c_int, c_int64, c_size_t, c_uint8, c_uint32, c_uint64
from ctypes import c_void_p as pointer
from functools import cache

from PyQt6.QtMultimedia import QAudioDevice

from ..sound.samples import Samples
from .server import SoundServer

__all__ = ["ServerOutput"]

_FRAME_BYTES = 8  # two floats
_DEPTH = 2.0  # seconds the server keeps
_REQUEST = 0.02  # seconds it asks for at least at a time, and keeps on its way to the device
_SETTLED = 0.05  # seconds before they are heard from which frames are left as they are, to begin with
_MOST_SETTLED = 0.15  # the same, on a machine that was too slow for that
_GONE = 0.03  # seconds before they are heard in which they have left the server
_NOTHING = -1  # frames heard before anything is
_OPENING = 4.0  # seconds after which a server that does not answer counts as gone
_FLOAT_LITTLE_ENDIAN = 5
_FROM_HERE = 0
_CONTEXT_READY = 4
_CONTEXT_FAILED = 5
_STREAM_READY = 2
_INTERPOLATE = 0x0002
_NOT_MONOTONIC = 0x0004
_FOLLOW_TIME = 0x0008
_SMALL_REQUESTS = 0x4000


class _SampleSpec(Structure):
    _fields_ = (("format", c_int), ("rate", c_uint32), ("channels", c_uint8))


class _Buffering(Structure):
    _fields_ = tuple((name, c_uint32) for name in ("most", "target", "before", "request", "fragment"))


_SIGNATURES: dict[str, tuple[object, ...]] = {  # result, then arguments
    "mainloop_new": (pointer,),
    "mainloop_get_api": (pointer, pointer),
    "mainloop_iterate": (c_int, pointer, c_int, pointer),
    "mainloop_free": (None, pointer),
    "context_new": (pointer, pointer, c_char_p),
    "context_connect": (c_int, pointer, c_char_p, c_int, pointer),
    "context_get_state": (c_int, pointer),
    "context_disconnect": (None, pointer),
    "context_unref": (None, pointer),
    "stream_new": (pointer, pointer, c_char_p, POINTER(_SampleSpec), pointer),
    "stream_connect_playback": (c_int, pointer, c_char_p, POINTER(_Buffering), c_int, pointer, pointer),
    "stream_get_state": (c_int, pointer),
    "stream_writable_size": (c_size_t, pointer),
    "stream_write": (c_int, pointer, c_char_p, c_size_t, pointer, c_int64, c_int),
    "stream_get_time": (c_int, pointer, POINTER(c_uint64)),
    "stream_disconnect": (c_int, pointer),
    "stream_unref": (None, pointer),
}


@cache
def _library() -> dict[str, Callable[..., int]] | None:
    """The functions of libpulse by their names; None where it is not installed."""
    try:
        found = CDLL("libpulse.so.0")
    except OSError:
        return None
    functions = {}
    for name, (result, *arguments) in _SIGNATURES.items():
        function = getattr(found, f"pa_{name}")
        function.restype = result
        function.argtypes = arguments
        functions[name] = function
    return functions


class ServerOutput:
    """A stream of the sound server, on its device of choice.

    Everything is asked of the library from one thread, without waiting: each call first lets it read and write what
    has come. A stream that runs dry goes on in time: what comes too late is not heard.
    """

    def __init__(self, device: QAudioDevice, rate: int) -> None:
        self.device = device
        self.gaps = 0
        self._rate = rate
        # frames
        self._written = 0
        self._heard = _NOTHING
        self._settled = _SETTLED
        self._back = 0  # frames by which the next write begins before the last one's end
        self._opened_at = time.monotonic()
        library = _library()
        assert library is not None
        self._do = library
        self._loop = self._do["mainloop_new"]()
        self._context = self._do["context_new"](self._do["mainloop_get_api"](self._loop), b"Chickadee")
        self._stream = 0
        self._do["context_connect"](self._context, None, 0, None)

    @staticmethod
    def available() -> bool:
        """Return whether there is such a server, and the library to speak to it."""
        return SoundServer.is_there() and _library() is not None

    def wanted(self) -> int:
        if not self._ready():
            return 0
        room = self._do["stream_writable_size"](self._stream) // _FRAME_BYTES
        if self._written and room >= _DEPTH * self._rate:
            self.gaps += 1
        return room + self._back

    def write(self, sound: Samples) -> None:
        too_late = self.heard() + round(_GONE * self._rate) - self._written if self._back else 0
        skipped = min(max(0, too_late), len(sound), self._back)
        if skipped > 0:  # what was there before is heard for so long; the next time more of it is left as it is
            self._settled = min(_MOST_SETTLED, self._settled * 1.5)
        self._back -= skipped
        data = sound[skipped:].tobytes()
        if data:
            self._do["stream_write"](self._stream, data, len(data), None, -self._back * _FRAME_BYTES, _FROM_HERE)
            self._back = 0
        self._written += len(sound)

    def heard(self) -> int:
        if self._ready():
            microseconds = c_uint64()
            taken = self._taken()
            if taken <= 0:
                self._heard = _NOTHING
            elif self._do["stream_get_time"](self._stream, byref(microseconds)) == 0:
                known = min(self._written, taken + round(_REQUEST * self._rate))
                self._heard = min(known, round(microseconds.value * 1e-6 * self._rate))
        return self._heard

    def _taken(self) -> int:
        """How many frames the server has taken for the device, as far as it has said.

        A sink that was idle may take the first ones a second late; the stream's clock, which is interpolated, runs
        all the same.
        """
        room = self._do["stream_writable_size"](self._stream) // _FRAME_BYTES
        return self._written + self._back - round(_DEPTH * self._rate) + room

    def settled(self) -> int:
        return min(self._written, self.heard() + round(self._settled * self._rate))

    def take_back(self, frames: int) -> None:
        self._back += frames
        self._written -= frames

    def failed(self) -> bool:
        if self._ready():
            return False
        refused = self._do["context_get_state"](self._context) >= _CONTEXT_FAILED
        return refused or time.monotonic() - self._opened_at > _OPENING

    def close(self) -> None:
        if self._stream:
            self._do["stream_disconnect"](self._stream)
            self._do["stream_unref"](self._stream)
        self._do["context_disconnect"](self._context)
        self._do["context_unref"](self._context)
        self._do["mainloop_free"](self._loop)

    def _ready(self) -> bool:
        """Let the library work, and take the next step of the opening; whether sound can be given."""
        while self._do["mainloop_iterate"](self._loop, 0, None) > 0:
            pass
        if not self._stream and self._do["context_get_state"](self._context) == _CONTEXT_READY:
            self._open_stream()
        return bool(self._stream) and self._do["stream_get_state"](self._stream) == _STREAM_READY

    def _open_stream(self) -> None:
        os.environ.pop("PULSE_LATENCY_MSEC", None)  # it would overrule what is asked for here
        form = _SampleSpec(_FLOAT_LITTLE_ENDIAN, self._rate, 2)
        most = ctypes.c_uint32(-1).value  # as much as the server allows
        bytes_a_second = self._rate * _FRAME_BYTES
        buffering = _Buffering(most, round(_DEPTH * bytes_a_second), 0, round(_REQUEST * bytes_a_second), most)
        flags = _INTERPOLATE | _NOT_MONOTONIC | _FOLLOW_TIME | _SMALL_REQUESTS
        self._stream = self._do["stream_new"](self._context, b"Song", byref(form), None)
        self._do["stream_connect_playback"](self._stream, None, byref(buffering), flags, None, None)
