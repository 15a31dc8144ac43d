"""Colours, by day and in the evening: of the window and of pages that play."""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["DAY", "EVENING", "Theme"]


@dataclass(frozen=True, slots=True)
class Theme:
    """The colours of one time of day."""

    paper: str
    page: str
    ink: str
    grey: str
    line: str
    shade: str
    """Behind lanes outside the key, rulers and margins."""
    transport: str
    """Behind the transport bar."""
    transport_button: str
    transport_ink: str
    transport_grey: str
    accent: str
    accent_text: str
    """The accent where it is text on the page."""
    right: str
    wrong: str
    doubtful: str
    black_key: str
    white_key: str
    voices: tuple[str, ...]


DAY = Theme(
    paper="#F6F2EA",
    page="#FFFDF9",
    ink="#23272E",
    grey="#5E6A74",
    line="#DED9CD",
    shade="#EFE9DD",
    transport="#23272E",
    transport_button="#343A43",
    transport_ink="#FFFDF9",
    transport_grey="#A9B3BC",
    accent="#C4793A",
    accent_text="#97531A",
    right="#2F6B5B",
    wrong="#B3402E",
    doubtful="#A87B0E",
    black_key="#343A43",
    white_key="#FFFDF9",
    voices=("#3F6C99", "#C4793A", "#3E8068", "#84587F", "#8A4B43", "#6F7436", "#3D7F8C", "#6B5B95"),
)

EVENING = Theme(
    paper="#1E2227",
    page="#272C32",
    ink="#ECE7DC",
    grey="#A3AEB8",
    line="#3D444C",
    shade="#22262B",
    transport="#14171B",
    transport_button="#2C3239",
    transport_ink="#FFFDF9",
    transport_grey="#A9B3BC",
    accent="#D9914F",
    accent_text="#E2A469",
    right="#6DB39E",
    wrong="#E58470",
    doubtful="#D8AE4A",
    black_key="#14171B",
    white_key="#4A525B",
    voices=("#7BA7D3", "#D9914F", "#6FB397", "#BD8EB8", "#C98379", "#A9AE62", "#6FB5C2", "#A495CC"),
)
