"""The guide that ships with the program: chapters in the order of the trade, each with pages that answer questions."""

from yattle.help.guide import CHAPTERS, Page, chapter, page, page_of_action, page_of_rows, pages

__all__ = ["CHAPTERS", "Page", "chapter", "page", "page_of_action", "page_of_rows", "pages"]
