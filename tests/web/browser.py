"""Debian's Chromium without a window, for pages that play."""

from __future__ import annotations

import shutil
from pathlib import Path

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


def available():
    """Return whether there is a browser to test with."""
    return CHROMIUM is not None and DRIVER is not None


def started(profile: Path):
    """A browser with an empty profile, whose console and requests are logged."""
    from selenium.webdriver import Chrome
    from selenium.webdriver.chrome.options import Options
    from selenium.webdriver.chrome.service import Service

    options = Options()
    options.binary_location = CHROMIUM
    for option in (*_OPTIONS, f"--user-data-dir={profile}"):
        options.add_argument(option)
    options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
    return Chrome(options=options, service=Service(DRIVER))
