"""Colours and type, from the work: zinc greys, ink, copper, verdigris, marker yellow, oxide red."""

from __future__ import annotations

from dataclasses import dataclass
from importlib.resources import files

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont, QFontDatabase, QGuiApplication, QPalette
from PyQt6.QtWidgets import QApplication


@dataclass(frozen=True)
class Theme:
    """One theme; every text colour has at least 4.5:1 on the ground it is used on, what a control ends at 3:1."""

    name: str
    ground: str  # behind the cards
    card: str
    field: str
    ink: str
    dim: str
    line: str  # between cells, under heads: nothing depends on seeing it
    border: str  # round what is typed into or pressed
    rail: str
    rail_ink: str
    rail_dim: str
    rail_here: str
    copper: str  # selected
    copper_soft: str
    on_copper: str
    verdigris: str  # done and proven
    marker: str  # look at this
    marker_soft: str
    marker_line: str  # round what is to be looked at
    on_marker: str
    oxide: str  # cannot be made
    oxide_soft: str
    around: str
    sheet: str  # a flat piece of metal
    bare: str  # back face


LIGHT = Theme("light", "#dfe3e3", "#f6f5f0", "#ffffff", "#1b2325", "#566165", "#c5cbcb", "#767f82", "#273033",
              "#e9eceb", "#a9b4b5", "#3b474a", "#964615", "#f3dfd2", "#ffffff", "#1f6f5b", "#efbf2f", "#f8e9bb",
              "#957010", "#2a2410", "#a02c1a", "#f6dcd6", "#e4e2d9", "#d9dedd", "#9aa2a2")
DARK = Theme("dark", "#12181a", "#1e2628", "#283236", "#eceae3", "#adb8ba", "#3a4649", "#7b898d", "#0c1113",
             "#e3e7e6", "#93a0a2", "#243033", "#f0a974", "#46301f", "#1d130b", "#74cbb0", "#e6b93b", "#4a3f1b",
             "#e6b93b", "#211b07", "#f58d78", "#4a241d", "#2f3a3d", "#38454a", "#7d888a")


def load_fonts() -> None:
    """Make the shipped family known to Qt; without it numbers would not line up."""
    for weight in ("Regular", "Medium", "SemiBold", "Bold"):
        QFontDatabase.addApplicationFont(str(files("yattle.fonts").joinpath(f"Barlow-{weight}.ttf")))


def type_of(points: float, weight: QFont.Weight = QFont.Weight.Normal) -> QFont:
    """Barlow at ``points`` with figures of one width."""
    font = QFont("Barlow")
    font.setPointSizeF(points)
    font.setWeight(weight)
    font.setFeature(QFont.Tag("tnum"), 1)
    return font


def px(size: float) -> int:
    """``size`` px at the usual size of letters, as many more as a desktop makes its letters larger."""
    screen = QGuiApplication.primaryScreen()
    return round(size * (screen.logicalDotsPerInch() / 96.0 if screen is not None else 1.0))


def desktop_theme() -> Theme:
    """What the desktop asks for."""
    hints = QGuiApplication.styleHints()
    dark = hints is not None and hints.colorScheme() == Qt.ColorScheme.Dark
    return DARK if dark else LIGHT


class _Current:
    theme: Theme = LIGHT


def theme() -> Theme:
    """The theme in force; drawings ask for it each time they paint."""
    return _Current.theme


def use(chosen: Theme, app: QApplication) -> None:
    """Show the whole program in ``chosen``; nothing is done anew where it already is."""
    style = _style(chosen)
    if chosen is _Current.theme and app.styleSheet() == style:
        return
    _Current.theme = chosen
    palette = QPalette()
    for role, colour in ((QPalette.ColorRole.Window, chosen.ground), (QPalette.ColorRole.Base, chosen.field),
                         (QPalette.ColorRole.Text, chosen.ink), (QPalette.ColorRole.WindowText, chosen.ink),
                         (QPalette.ColorRole.ButtonText, chosen.ink), (QPalette.ColorRole.Button, chosen.card),
                         (QPalette.ColorRole.Highlight, chosen.copper), (QPalette.ColorRole.ToolTipBase, chosen.card),
                         (QPalette.ColorRole.ToolTipText, chosen.ink), (QPalette.ColorRole.AlternateBase, chosen.card),
                         (QPalette.ColorRole.HighlightedText, chosen.on_copper),
                         (QPalette.ColorRole.PlaceholderText, chosen.dim)):
        palette.setColor(role, QColor(colour))
    app.setPalette(palette)
    app.setFont(type_of(11))
    app.setStyleSheet(style)


def _icon(name: str) -> str:
    return str(files("yattle.ui").joinpath("icons", f"{name}.svg")).replace("\\", "/")


def _style(t: Theme) -> str:
    return f"""
    QMainWindow, QDialog {{ background: {t.ground}; }}
    QMenuBar {{ background: {t.card}; padding: 3px 8px; }}
    QMenuBar::item {{ padding: 5px 11px; border-radius: 5px; background: transparent; }}
    QMenuBar::item:selected {{ background: {t.copper_soft}; }}
    QMenu {{ background: {t.card}; border: 1px solid {t.line}; padding: 5px; }}
    QMenu::item {{ padding: 6px 26px 6px 18px; border-radius: 4px; }}
    QMenu::item:selected {{ background: {t.copper_soft}; color: {t.ink}; }}
    QMenu::item:disabled {{ color: {t.dim}; }}
    QFrame#card {{ background: {t.card}; border-radius: 7px; }}
    QFrame#focus {{ background: transparent; border: 2px solid {t.copper}; border-radius: 6px; }}
    QLabel#dim {{ color: {t.dim}; }}
    QLabel#head {{ font-weight: 600; font-size: 14pt; }}
    QLabel#proof {{ font-weight: 600; }}
    QLabel#proof[earned="true"] {{ color: {t.verdigris}; }}
    QLabel#wrong {{ color: {t.oxide}; }}
    QLabel#group {{ color: {t.dim}; font-weight: 600; font-size: 10.5pt; padding-top: 4px; }}
    QLabel#of {{ font-weight: 600; font-size: 12.5pt; }}
    QPushButton#group {{ background: transparent; border: none; border-radius: 4px; text-align: left; color: {t.dim};
        font-weight: 600; font-size: 10.5pt; padding: 4px 0 1px 0; }}
    QPushButton#group:hover {{ color: {t.copper}; }}
    QPushButton#group:focus {{ color: {t.copper}; border-bottom: 2px solid {t.copper}; padding: 4px 0 0 0; }}
    QLabel#why {{ font-size: 14pt; padding: 8px 0; }}
    QLabel#big {{ font-weight: 700; font-size: 22pt; }}
    QLineEdit, QComboBox {{ background: {t.field}; color: {t.ink}; border: 1px solid {t.border}; border-radius: 5px;
        padding: 1px 7px; selection-background-color: {t.copper}; selection-color: {t.on_copper}; }}
    QLineEdit:focus, QComboBox:focus {{ border: 2px solid {t.copper}; padding: 0 6px; }}
    QLineEdit[wrong="true"] {{ border: 2px solid {t.oxide}; background: {t.oxide_soft}; padding: 0 6px; }}
    QLineEdit#number {{ font-weight: 600; font-size: 13pt; }}
    QComboBox::drop-down {{ border: none; width: 22px; }}
    QComboBox::down-arrow {{ image: url({_icon(f"down-{t.name}")}); width: 12px; height: 12px; }}
    QComboBox QAbstractItemView {{ background: {t.card}; color: {t.ink}; border: 1px solid {t.line};
        selection-background-color: {t.copper_soft}; selection-color: {t.ink}; }}
    QPushButton {{ background: {t.field}; color: {t.ink}; border: 1px solid {t.border}; border-radius: 5px;
        padding: 5px 12px; }}
    QPushButton:hover {{ border-color: {t.copper}; }}
    QPushButton:focus {{ border: 2px solid {t.copper}; padding: 4px 11px; }}
    QPushButton:checked {{ background: {t.copper_soft}; border-color: {t.copper}; }}
    QPushButton:disabled {{ color: {t.dim}; }}
    QToolButton {{ background: {t.field}; color: {t.ink}; border: 1px solid {t.border}; border-radius: 7px;
        padding: 6px; font-size: 12pt; }}
    QToolButton#edge {{ background: transparent; border: none; border-radius: 4px; padding: 0; color: {t.dim}; }}
    QToolButton#edge:hover, QToolButton#edge:focus {{ background: {t.copper_soft}; color: {t.ink}; border: none;
        padding: 0; }}
    QToolButton:hover, QToolButton:focus {{ border: 2px solid {t.copper}; padding: 5px; }}
    QPushButton#start {{ text-align: left; padding: 10px 14px; border-radius: 7px; font-size: 12pt; }}
    QPushButton#start:focus {{ padding: 9px 13px; }}
    QPushButton#flat {{ background: transparent; border: none; text-align: left; padding: 2px 4px;
        border-radius: 4px; }}
    QPushButton#flat:hover {{ background: {t.copper_soft}; }}
    QPushButton#flat:focus {{ border: 1px solid {t.copper}; padding: 1px 3px; }}
    QPushButton#number {{ background: transparent; border: none; border-bottom: 1px dotted {t.dim};
        border-radius: 0; font-weight: 600; font-size: 13pt; padding: 2px 3px; text-align: right; }}
    QPushButton#girth {{ background: transparent; border: none; border-bottom: 1px dotted {t.dim};
        border-radius: 0; font-weight: 700; font-size: 19pt; padding: 0 3px; text-align: right; }}
    QPushButton#number:hover, QPushButton#girth:hover {{ color: {t.copper}; }}
    QPushButton#number:focus, QPushButton#girth:focus {{ color: {t.copper}; border-bottom: 2px solid {t.copper}; }}
    QPushButton#number:disabled, QPushButton#girth:disabled {{ color: {t.ink}; border-bottom: none; }}
    QListView#findings {{ background: transparent; border: none; outline: none; }}
    QFrame#sum {{ background: {t.copper_soft}; border-radius: 5px; }}
    QScrollArea, QScrollArea > QWidget > QWidget {{ background: transparent; border: none; }}
    QScrollBar:vertical {{ width: 9px; background: transparent; }}
    QScrollBar::handle:vertical {{ background: {t.border}; border-radius: 4px; min-height: 30px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
    QScrollBar:horizontal {{ height: 9px; background: transparent; }}
    QScrollBar::handle:horizontal {{ background: {t.border}; border-radius: 4px; min-width: 30px; }}
    QTableView {{ background: {t.card}; border: none; gridline-color: {t.line}; font-size: 12pt;
        selection-background-color: {t.copper_soft}; selection-color: {t.ink}; outline: none; }}
    QTableView::item {{ padding: 4px 6px; }}
    QTableView::item:focus {{ border: 2px solid {t.copper}; }}
    QHeaderView::section {{ background: {t.card}; color: {t.dim}; border: none; border-bottom: 1px solid {t.line};
        padding: 5px 6px; text-align: left; }}
    QTableCornerButton::section {{ background: {t.card}; border: none; }}
    QListWidget {{ background: transparent; border: none; outline: none; }}
    QListWidget::item {{ padding: 4px 8px; border-radius: 4px; }}
    QListWidget::item:selected {{ background: {t.copper_soft}; color: {t.ink}; }}
    QListWidget#rail {{ color: {t.rail_ink}; font-size: 11.5pt; }}
    QListWidget#rail::item:selected {{ background: {t.rail_here}; color: {t.rail_ink}; }}
    QListWidget#rail:focus {{ border: 1px solid {t.rail_dim}; border-radius: 4px; }}
    QSlider::groove:horizontal {{ height: 4px; background: {t.border}; border-radius: 2px; }}
    QSlider::sub-page:horizontal {{ background: {t.copper}; border-radius: 2px; }}
    QSlider::handle:horizontal {{ width: 18px; margin: -8px 0; border-radius: 10px; background: {t.card};
        border: 3px solid {t.copper}; }}
    QSlider:focus {{ border: 1px solid {t.copper}; border-radius: 6px; }}
    QToolTip {{ background: {t.card}; color: {t.ink}; border: 1px solid {t.line}; padding: 4px; }}
    """
