"""The guide as a window: chapters and questions on the left, a page on the right; links do what they say."""

from __future__ import annotations

from importlib.resources import as_file, files
from typing import Any

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QFontMetrics, QImage, QPixmap, QResizeEvent, QTextDocument
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QLabel,
    QTextBrowser,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from yattle import help as guide
from yattle.ui.theme import px
from yattle.ui.widgets.words import Words

_EDGE = 60  # px of the screen that stay free beside it


class _PageBrowser(QTextBrowser):
    """A page whose pictures are no wider than itself."""

    def loadResource(self, kind: int, name: QUrl) -> Any:
        found = super().loadResource(kind, name)
        if kind != QTextDocument.ResourceType.ImageResource.value:
            return found
        picture, viewport, document = QImage.fromData(found), self.viewport(), self.document()
        if picture.isNull() or viewport is None or document is None:
            return found
        room = max(viewport.width() - round(2 * document.documentMargin()), 1)
        return picture if picture.width() <= room else picture.scaledToWidth(
            room, Qt.TransformationMode.SmoothTransformation)


def _lines(title: str, room: int, letters: QFontMetrics) -> list[str]:
    """A title in lines of so many px at the most, broken between words."""
    lines = [""]
    for word in title.split():
        longer = f"{lines[-1]} {word}".strip()
        if letters.horizontalAdvance(longer) > room and lines[-1]:
            lines.append(word)
        else:
            lines[-1] = longer
    return lines


class HelpBox(QDialog):
    """Opens on a page; ``about``: the sentence of a field that was asked for, above it, with a ``picture`` of where it
    is measured."""

    def __init__(self, parent: QWidget, page_id: str, about: str = "", picture: QPixmap | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle("Guide")
        screen = self.screen()
        room = screen.availableGeometry().size() if screen is not None else self.size()
        self.resize(min(px(1060), room.width() - _EDGE), min(px(620), room.height() - _EDGE))
        self.about = Words(about)
        self.about.setObjectName("why")
        self.about.setWordWrap(True)
        self.about.setVisible(bool(about))
        self.picture = QLabel()
        self.picture.setAccessibleName("where it is measured, in copper")
        self.picture.setVisible(picture is not None)
        if picture is not None:
            self.picture.setPixmap(picture)
        self.page = _PageBrowser()
        self.page.setAccessibleName("page")
        self.page.setOpenLinks(False)
        document = self.page.document()
        if document is not None:
            document.setDocumentMargin(px(14))
        self.page.anchorClicked.connect(self._follow)
        with as_file(files("yattle.help")) as folder:
            self.page.setSearchPaths([str(folder)])
        self.list = QTreeWidget()
        self.list.setAccessibleName("chapters and questions")
        self.list.setHeaderHidden(True)
        self._fill()
        self._fit_list()
        self.list.currentItemChanged.connect(lambda now, _: self._show(now))
        right = QVBoxLayout()
        right.addWidget(self.about)
        right.addWidget(self.picture)
        right.addWidget(self.page, 1)
        row = QHBoxLayout(self)
        row.addWidget(self.list)
        row.addLayout(right, 1)
        self.open_page(page_id)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """The list of titles and the page's pictures follow its width."""
        super().resizeEvent(event)
        self._fit_list()
        layout = self.layout()
        if layout is not None:
            layout.activate()
        self._show(self.list.currentItem())

    def _fill(self) -> None:
        for name in guide.CHAPTERS:
            own, *questions = guide.chapter(name)
            head = QTreeWidgetItem([own.title])
            head.setData(0, Qt.ItemDataRole.UserRole, own.id)
            head.setToolTip(0, own.title)
            self.list.addTopLevelItem(head)
            for one in questions:
                item = QTreeWidgetItem([one.title])
                item.setData(0, Qt.ItemDataRole.UserRole, one.id)
                item.setToolTip(0, one.title)
                head.addChild(item)

    def _fit_list(self) -> None:
        """The list as wide as its titles, where the page keeps more than half; else they go on in a second line."""
        most = round(0.45 * self.width())
        self.list.setFixedWidth(min(self._widest() + 2 * self.list.indentation() + px(30), most))
        room = self.list.width() - 2 * self.list.indentation() - px(28)  # a bar beside them, too
        for head in map(self.list.topLevelItem, range(self.list.topLevelItemCount())):
            for item in (head, *map(head.child, range(head.childCount()))) if head is not None else ():
                if item is not None:
                    title = item.toolTip(0)
                    item.setText(0, "\n".join(_lines(title, room, self.list.fontMetrics())))
                    item.setData(0, Qt.ItemDataRole.AccessibleTextRole, title)

    def _widest(self) -> int:
        """Of all titles, so that none is cut."""
        letters = self.list.fontMetrics()
        return max(letters.horizontalAdvance(page.title) for name in guide.CHAPTERS for page in guide.chapter(name))

    def open_page(self, page_id: str) -> None:
        """Show a page, its chapter opened."""
        for n in range(self.list.topLevelItemCount()):
            head = self.list.topLevelItem(n)
            assert head is not None
            for item in (head, *(head.child(k) for k in range(head.childCount()))):
                if item is not None and item.data(0, Qt.ItemDataRole.UserRole) == page_id:
                    head.setExpanded(True)
                    self.list.setCurrentItem(item)

    def _show(self, item: QTreeWidgetItem | None) -> None:
        if item is not None:
            self.page.setMarkdown(guide.page(item.data(0, Qt.ItemDataRole.UserRole)).text)

    def _follow(self, link: QUrl) -> None:
        if link.scheme() == "page":
            self.open_page(link.path())
