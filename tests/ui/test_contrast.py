"""The contrast table: every colour of text on every ground it is used on, and what controls end at, in both themes (WCAG 2.1, 1.4.3 and 1.4.11)."""

from __future__ import annotations

import pytest

from yattle.ui.theme import DARK, LIGHT

TEXTS = {"ground": ("ink", "dim", "copper"), "card": ("ink", "dim", "copper", "verdigris", "oxide"), "field": ("ink", "dim", "copper"),
         "sheet": ("ink", "dim", "copper"), "around": ("ink", "dim"), "copper_soft": ("ink", "dim", "copper"), "marker_soft": ("ink",),
         "oxide_soft": ("ink", "oxide"), "copper": ("on_copper",), "marker": ("on_marker",), "rail": ("rail_ink", "rail_dim"),
         "rail_here": ("rail_ink", "rail_dim")}
BORDERS = {"card": ("border", "copper", "oxide", "verdigris", "marker_line"), "field": ("border", "copper", "oxide"), "ground": ("border",),
           "marker_soft": ("marker_line",), "oxide_soft": ("oxide",), "sheet": ("ink",)}


def lightness(colour):
    parts = [int(colour[n:n + 2], 16) / 255 for n in (1, 3, 5)]
    r, g, b = (part / 12.92 if part <= 0.04045 else ((part + 0.055) / 1.055) ** 2.4 for part in parts)
    return 0.2126 * r + 0.7152 * g + 0.0722 * b


def contrast(one, other):
    light, dark = sorted((lightness(one), lightness(other)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


def test_the_measure_itself():
    assert contrast("#ffffff", "#000000") == pytest.approx(21.0) and contrast("#777777", "#ffffff") == pytest.approx(4.48, abs=0.01)


@pytest.mark.parametrize("theme", [LIGHT, DARK], ids=lambda one: one.name)
@pytest.mark.parametrize(("table", "least"), [(TEXTS, 4.5), (BORDERS, 3.0)], ids=["texts", "borders"])
def test_what_is_read_and_what_is_pressed_can_be_seen(theme, table, least):
    found = {(ground, name): round(contrast(getattr(theme, ground), getattr(theme, name)), 2) for ground, names in table.items() for name in names}
    assert not {pair: value for pair, value in found.items() if value < least}
