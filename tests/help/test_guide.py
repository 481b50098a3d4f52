"""The guide: every action and every group of fields leads to a page, no page names what is not there, its pictures are there."""

from __future__ import annotations

import re
from importlib.resources import files

import pytest

from yattle.details import FAMILIES
from yattle.help import CHAPTERS, chapter, page, page_of_action, page_of_rows, pages
from yattle.ui.commands.table import ACTIONS
from yattle.ui.frame.trade_words import trade_words

TABLE = {action.id: action for action in ACTIONS}
KEYS = {key for action in ACTIONS for key in (action.shortcut, *action.also) if key}
BY_HAND = {"Ctrl+0", "Return", "R", "Esc"}


def test_chapters_are_in_the_order_of_the_trade_and_answer_thirty_questions():
    assert CHAPTERS == ("first", "survey", "trim", "brake", "coil", "fit", "log")
    assert all(chapter(name)[0].id == name and len(chapter(name)[0].text) > 100 for name in CHAPTERS)
    questions = [one for one in pages() if one.id not in CHAPTERS]
    assert len(questions) >= 30 and len({one.id for one in pages()}) == len(pages())
    assert all(one.title.endswith("?") and len(one.text) > 150 and one.words for one in questions)


def test_every_action_is_explained_and_no_page_names_one_that_is_not_there():
    named = [action for one in pages() for action in one.actions]
    assert sorted(named) == sorted(TABLE), "each on one page"
    assert page_of_action("coil.search").id == "plan" and page_of_action("nothing") is None


@pytest.mark.parametrize("one", pages(), ids=lambda one: one.id)
def test_no_page_names_a_key_or_a_picture_that_is_not_there(one):
    for key in re.findall(r"`((?:Ctrl|Shift|F\d)[^`]*)`", one.text):
        assert key in KEYS | BY_HAND, f"{one.id}: {key}"
    for picture in re.findall(r"\]\((pictures/[^)]+)\)", one.text):
        assert files("yattle.help").joinpath(picture).is_file(), f"{one.id}: {picture}"
    for link in re.findall(r"\]\(page:([^)]+)\)", one.text):
        assert page(link)


def test_the_trade_s_words_lead_somewhere():
    kinds = {kind for family in FAMILIES.values() for kind in family.kinds}
    for word in trade_words():
        assert word.words and word.says
        assert {"action": word.to in TABLE, "page": any(one.id == word.to for one in pages()), "edge": word.to in kinds,
                "opening": word.to in ("chimney", "pipe", "curb")}[word.leads], word
    known = {name for word in trade_words() for name in word.words}
    assert {"coping", "apron", "soaker", "saddle", "cricket", "boot", "verge", "reglet", "end cap"} <= known
    assert page_of_rows("trim", "Schools").id == "schools" and page_of_rows("trim", "Opening").chapter == "trim"
