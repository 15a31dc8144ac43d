"""Debian's Chromium without a window: pages that play are tested in it, and their picture is taken."""

from __future__ import annotations

import shutil
from pathlib import Path
from typing import Any

CHROMIUM = shutil.which("chromium")
DRIVER = shutil.which("chromedriver")
_OPTIONS = (
    "--headless=new",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--autoplay-policy=no-user-gesture-required",
)

__all__ = ["available", "started"]


def available() -> bool:
    """Return whether there is a browser to test with."""
    return CHROMIUM is not None and DRIVER is not None


def started(profile: Path) -> Any:
    """A browser with an empty profile, whose console and requests are logged."""
    from selenium.webdriver import Chrome
    from selenium.webdriver.chrome.options import Options
    from selenium.webdriver.chrome.service import Service

    options = Options()
    assert CHROMIUM is not None and DRIVER is not None
    options.binary_location = CHROMIUM
    for option in (*_OPTIONS, f"--user-data-dir={profile}"):
        options.add_argument(option)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
    return Chrome(options=options, service=Service(DRIVER))
