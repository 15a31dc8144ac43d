"""A screen of its own for programs under test, with the hand and the eyes of somebody who sits at it."""

from __future__ import annotations

import ctypes
import os
import subprocess
import time
from collections.abc import Callable, Iterator
from ctypes import POINTER, Structure, byref, c_char, c_char_p, c_int, c_long, c_uint, c_ulong, c_void_p

_KEYS = {
    " ": "space",
    "\n": "Return",
    "=": "equal",
    "|": "bar",
    "#": "numbersign",
    ":": "colon",
    "/": "slash",
    ".": "period",
    "-": "minus",
    "_": "underscore",
}
_CLIENT_MESSAGE = 33
_VIEWABLE = 2


class _ClientMessage(Structure):
    _fields_ = [
        ("type", c_int), ("serial", c_ulong), ("sent", c_int), ("display", c_void_p), ("window", c_ulong),
        ("message", c_ulong), ("format", c_int), ("data", c_long * 5), ("rest", c_char * 96),
    ]  # fmt: skip


class _Attributes(Structure):
    _fields_ = [
        ("place", c_int * 6), ("visual", c_void_p), ("root", c_ulong), ("kind", c_int * 4), ("planes", c_ulong * 2),
        ("save_under", c_int), ("colours", c_ulong), ("installed", c_int), ("map_state", c_int), ("rest", c_char * 64),
    ]  # fmt: skip


class Screen:
    """An X server without a monitor or a window manager. Its windows are told apart by their titles."""

    def __init__(self) -> None:
        out, back = os.pipe()
        self._server = subprocess.Popen(
            ["Xvfb", "-displayfd", str(back), "-screen", "0", "1400x900x24", "-nolisten", "tcp"],
            pass_fds=[back], stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
        )  # fmt: skip
        os.close(back)
        with os.fdopen(out) as said:
            self.name = f":{said.readline().strip()}"
        self._x = ctypes.CDLL("libX11.so.6")
        self._test = ctypes.CDLL("libXtst.so.6")
        for call, result, *kinds in (
            ("XOpenDisplay", c_void_p, c_char_p), ("XDefaultRootWindow", c_ulong, c_void_p),
            ("XStringToKeysym", c_ulong, c_char_p), ("XInternAtom", c_ulong, c_void_p, c_char_p, c_int),
            ("XGetImage", c_void_p, c_void_p, c_ulong, c_int, c_int, c_uint, c_uint, c_ulong, c_int),
            ("XGetPixel", c_ulong, c_void_p, c_int, c_int),
        ):  # fmt: skip
            function = getattr(self._x, call)
            function.restype = result
            function.argtypes = kinds
        self._quiet = ctypes.CFUNCTYPE(c_int, c_void_p, c_void_p)(lambda *_: 0)  # windows go while they are asked for
        self._x.XSetErrorHandler(self._quiet)
        self._display = c_void_p(self._x.XOpenDisplay(self.name.encode()))
        self._root = c_ulong(self._x.XDefaultRootWindow(self._display))

    def close(self) -> None:
        """Switch the screen off."""
        self._x.XCloseDisplay(self._display)
        self._server.kill()
        self._server.wait()

    # Eyes

    def has(self, title: str) -> int:
        """The visible window of a title, or 0."""
        return next((each for each in self._windows() if self.title(each) == title), 0)

    def window(self, title: str) -> int:
        """The visible window of a title, as soon as there is one."""
        return self.wait(lambda: self.has(title))

    def wait(self, question: Callable[[], int], seconds: float = 60) -> int:
        """The first answer that is not nothing."""
        end = time.monotonic() + seconds
        while not (answer := question()):
            assert time.monotonic() < end, f"on the screen: {[self.title(each) for each in self._windows()]}"
            time.sleep(0.005)
        return answer

    def title(self, window: int) -> str:
        """The title of a window."""
        kind = c_ulong()
        form = c_int()
        count = c_ulong()
        left = c_ulong()
        text = c_char_p()
        self._x.XGetWindowProperty(
            self._display, c_ulong(window), self._atom("_NET_WM_NAME"), 0, 1000, 0, c_ulong(0), byref(kind),
            byref(form), byref(count), byref(left), byref(text),
        )  # fmt: skip
        return (text.value or b"").decode()

    def size(self, window: int) -> tuple[int, int]:
        """A window's width and height in pixels."""
        root = c_ulong()
        place = (c_int(), c_int())
        numbers = [c_uint() for _ in range(4)]
        self._x.XGetGeometry(self._display, c_ulong(window), byref(root), *map(byref, place), *map(byref, numbers))
        return numbers[0].value, numbers[1].value

    def colour(self, window: int, x: int, y: int) -> str:
        """The colour of a pixel of a window, as in #f6f2ea."""
        every = c_ulong(2**32 - 1)
        image = c_void_p(self._x.XGetImage(self._display, c_ulong(window), x, y, 1, 1, every, 2))
        pixel: int = self._x.XGetPixel(image, 0, 0)
        self._x.XDestroyImage(image)
        return f"#{pixel & 0xFFFFFF:06x}"

    def _windows(self) -> Iterator[int]:
        root = c_ulong()
        parent = c_ulong()
        children = POINTER(c_ulong)()
        count = c_uint()
        self._x.XQueryTree(self._display, self._root, byref(root), byref(parent), byref(children), byref(count))
        for window in children[: count.value]:
            seen = _Attributes()
            self._x.XGetWindowAttributes(self._display, c_ulong(window), byref(seen))
            if seen.map_state == _VIEWABLE:
                yield window

    def _atom(self, name: str) -> c_ulong:
        return c_ulong(self._x.XInternAtom(self._display, name.encode(), 0))

    # HeldKeys

    def type(self, window: int, text: str) -> None:
        """Press and let go of the keys for a text, in a window."""
        self._face(window)
        for sign in text:
            key = _KEYS.get(sign, sign)
            self.press(window, key, "Shift_L" if sign.isupper() or sign in "|#:_" else "")

    def press(self, window: int, key: str, held: str = "") -> None:
        """Press a key by its name, another one held."""
        self._face(window)
        keys = [name for name in (held, key) if name]
        for name, down in [(name, 1) for name in keys] + [(name, 0) for name in reversed(keys)]:
            code = self._x.XKeysymToKeycode(self._display, c_ulong(self._x.XStringToKeysym(name.encode())))
            self._test.XTestFakeKeyEvent(self._display, c_uint(code), c_int(down), c_ulong(0))
        self._x.XSync(self._display, 0)

    def double_click(self, x: int, y: int) -> None:
        """Press the mouse twice at a place."""
        self._point(x, y)
        for down in (1, 0, 1, 0):
            self._button(down)
            time.sleep(0.02)  # as a hand: with no time between, Qt takes them for two clicks

    def drag(self, *places: tuple[int, int]) -> None:
        """Press the mouse at the first place, move over the others, and let go at the last."""
        self._point(*places[0])
        self._button(1)
        for place in places[1:]:
            self._point(*place)
        self._button(0)

    def _point(self, x: int, y: int) -> None:
        self._test.XTestFakeMotionEvent(self._display, c_int(-1), c_int(x), c_int(y), c_ulong(0))
        self._x.XSync(self._display, 0)

    def _button(self, down: int) -> None:
        self._test.XTestFakeButtonEvent(self._display, c_uint(1), c_int(down), c_ulong(0))
        self._x.XSync(self._display, 0)

    def resize(self, window: int, width: int, height: int) -> None:
        """Give a window another size."""
        self._x.XResizeWindow(self._display, c_ulong(window), c_uint(width), c_uint(height))
        self._x.XSync(self._display, 0)

    def ask_to_close(self, window: int) -> None:
        """Ask a window to go, as the cross in its corner does."""
        message = _ClientMessage(type=_CLIENT_MESSAGE, window=window, format=32)
        message.message = self._atom("WM_PROTOCOLS").value
        message.data[0] = self._atom("WM_DELETE_WINDOW").value
        self._x.XSendEvent(self._display, c_ulong(window), 0, c_long(0), byref(message))
        self._x.XSync(self._display, 0)

    def _face(self, window: int) -> None:
        """Have the keys go to a window, as a window manager would."""
        self._x.XSetInputFocus(self._display, c_ulong(window), 1, c_ulong(0))
        self._x.XSync(self._display, 0)
