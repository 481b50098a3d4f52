"""The guide as a window: chapters and questions on the left, a page on the right; links do what they say."""

from __future__ import annotations

from importlib.resources import as_file, files

from PyQt6.QtCore import Qt, QUrl
from PyQt6.QtGui import QPixmap
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
        self.page = QTextBrowser()
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
        self.list.setWordWrap(True)
        self._fill()
        self.list.setFixedWidth(min(self._widest() + 2 * self.list.indentation() + px(24), round(0.45 * self.width())))
        self.list.currentItemChanged.connect(lambda now, _: self._show(now))
        right = QVBoxLayout()
        right.addWidget(self.about)
        right.addWidget(self.picture)
        right.addWidget(self.page, 1)
        row = QHBoxLayout(self)
        row.addWidget(self.list)
        row.addLayout(right, 1)
        self.open_page(page_id)

    def _fill(self) -> None:
        for name in guide.CHAPTERS:
            own, *questions = guide.chapter(name)
            head = QTreeWidgetItem([own.title])
            head.setData(0, Qt.ItemDataRole.UserRole, own.id)
            self.list.addTopLevelItem(head)
            for one in questions:
                item = QTreeWidgetItem([one.title])
                item.setData(0, Qt.ItemDataRole.UserRole, one.id)
                item.setToolTip(0, one.title)
                head.addChild(item)

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
