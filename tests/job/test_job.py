"""Jobs: what is derived, edits with undo, and files that are never lost."""

from __future__ import annotations

import json
import os
import re

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from samples import eaves_path
from yattle.coil import faults
from yattle.csv_tables import as_csv, in_style, rows_of
from yattle.derive import derive
from yattle.derive.roof_runs import run_of, with_run
from yattle.derive.run import common_of
from yattle.errors import FileProblem, InputError, YattleError
from yattle.job import Job, Run, demo_path, load, save
from yattle.job.in_use import with_metal
from yattle.job.ledger import stock_csv, stock_from_csv, with_counted
from yattle.job.model import LedgerEntry
from yattle.job.next_job import next_job
from yattle.job.settings import Settings, keep_settings, load_settings
from yattle.job.store import as_text, parse
from yattle.metal import OwnMetal
from yattle.session import Session

DEMO = load(eaves_path())


@pytest.mark.parametrize("which", ["sail-loft", "net-shed"])
def test_the_demo_jobs_are_whole(which):
    derived = derive(load(demo_path(which)))
    assert all(run.pieces for run in derived.runs if run.made)
    assert max(piece.proof.max_gap for piece in derived.pieces) < 0.01
    assert derived.nest.ok and faults(derived.nest_job, json.loads(json.dumps(derived.nest.answer()))) == []
    assert all(derived.order(run.run.id).proved_best for run in derived.runs if run.made)


def test_a_taped_length_that_disagrees_is_shown():
    findings = derive(DEMO).findings
    assert [(run, f.field) for run, f in findings] == [("E2", "taped")]
    assert findings[0][1].says() == "taped 9\u00a0460.0 mm, the run says 9\u00a0480.0 mm"


def test_an_edit_recomputes_only_what_depends_on_it():
    before = derive(DEMO)
    after = derive(with_run(DEMO, "E1", pitch=36.0))
    assert after.run("E2") is before.run("E2")
    assert after.run("E1").detail.profile.turns[0] == -54


def test_undo_and_redo_reach_everything():
    session = Session(DEMO)
    session.set_own("E1", "face", 100.0)
    session.own_for_all("E1")
    session.add_run()
    session.edit_run("pitch", "E2", pitch=40.0)
    edited = session.job
    for _ in range(4):
        session.undo()
    assert session.job == DEMO and session.undo_title is None and not session.changed
    for _ in range(4):
        session.redo()
    assert session.job == edited and session.redo_title is None and session.changed


def test_a_wrong_edit_changes_nothing():
    session = Session(DEMO)
    for deed in (lambda: session.edit_run("pitch", "E1", pitch=95.0), lambda: session.set_own("E1", "face", 5000.0),
                 lambda: session.edit_run("length", "E1", length=1e7), lambda: session.remove_run("E99"),
                 lambda: session.edit_run("length", "E1", length=float("nan"))):
        with pytest.raises(InputError):
            deed()
    assert session.job is DEMO and session.undo_title is None


def test_selection_follows_what_is_there():
    session = Session(DEMO)
    told = []
    session.listen(told.append)
    session.select(run="E3", piece=8, fold="f2")
    session.edit_run("length", "E3", length=4000.0)
    assert session.selection.piece == 1 and told == ["selection", "job"]
    session.remove_run("E3")
    assert session.selection.run == "E1" and session.selection.fold is None


def test_save_and_open_give_the_same_job(tmp_path):
    path = tmp_path / "loft.yattle"
    save(DEMO, path)
    assert load(path) == DEMO
    save(DEMO.but(name="second"), path)
    assert load(path).name == "second" and load(tmp_path / "loft.yattle.before") == DEMO
    assert sorted(p.name for p in tmp_path.iterdir()) == ["loft.yattle", "loft.yattle.before"]
    assert list(json.loads(path.read_text())) == sorted(json.loads(path.read_text()))


@pytest.mark.parametrize(("content", "says"), [
    (b"\xff\xfe\x00", "not text"), (b"{", "not JSON"), (b"[]", "no format"), (b'{"format": "other/1"}', "not a Yattle job"),
    (b'{"format": "yattle-job/9"}', "newer Yattle"), (b'{"format": "yattle-job/1"}', "name"), (b"[" * 100000, "not JSON")])
def test_foreign_files_are_refused_with_a_reason(tmp_path, content, says):
    path = tmp_path / "x.yattle"
    path.write_bytes(content)
    with pytest.raises(YattleError, match=says) as wrong:
        load(path)
    assert "x.yattle" in str(wrong.value) and path.read_bytes() == content


def test_a_missing_file_and_a_folder():
    from pathlib import Path

    with pytest.raises(FileProblem, match="cannot be read"):
        load(Path("nowhere.yattle"))
    with pytest.raises(FileProblem, match="cannot be read"):
        load(eaves_path().parent)


def test_a_place_that_cannot_be_written_keeps_the_old_file(tmp_path, monkeypatch):
    path = tmp_path / "loft.yattle"
    save(DEMO, path)

    def refuse(*_):
        raise PermissionError(13, "Permission denied")

    monkeypatch.setattr(os, "replace", refuse)
    with pytest.raises(FileProblem, match="nothing is lost"):
        save(DEMO.but(name="never"), path)
    monkeypatch.undo()
    assert load(path) == DEMO and [p.name for p in tmp_path.iterdir() if p.name.startswith(".")] == []
    with pytest.raises(FileProblem, match="save it somewhere else"):
        save(DEMO, tmp_path / "none" / "loft.yattle")


TEXT = as_text(DEMO)


@settings(max_examples=120, deadline=None)
@given(st.integers(0, len(TEXT) - 1), st.characters(codec="ascii"))
def test_a_broken_letter_never_crashes_it(place, letter):
    try:
        assert isinstance(parse(TEXT[:place] + letter + TEXT[place + 1:]), Job)
    except YattleError as wrong:
        assert "\n" not in str(wrong)


@pytest.mark.parametrize(("change", "says"), [
    ({"metal": "gold"}, "a metal of the library"), ({"thickness": 1.9}, "0.2 to 1.75 mm .* usual is 0.5, 0.6, 0.7"),
    ({"runs": [{"id": "E1", "pitch": 95, "length": 1000}]}, "0° to 80°"), ({"unit": "ells"}, "'mm'"),
    ({"runs": [{"id": "E1", "pitch": 30, "length": 10_000_000}]}, "at most 200000"),
    ({"runs": [{"id": "E1", "pitch": 3, "length": 9}, {"id": "E1", "pitch": 3, "length": 9}]}, "once"),
    ({"own": {"face": 5000}}, "face from 5.0 mm to 400.0 mm")])
def test_fields_out_of_reason(change, says):
    with pytest.raises(InputError, match=says):
        parse(json.dumps(json.loads(TEXT) | change))


def test_an_empty_job_is_a_job():
    derived = derive(Job(name="empty"))
    assert derived.pieces == () and derived.nest.placements == ()


def test_a_run_that_cannot_be_made_leaves_the_others():
    job = with_run(DEMO, "E1", own={"kick": 3.0, "kick_turn": 135.0, "hem": 12.0})
    derived = derive(job)
    assert derived.run("E2").pieces and derived.order("E2").cost >= 0
    if not derived.run("E1").pieces:
        assert derived.findings[0][1].level == "stop" and derived.order("E1") is None


def test_settings_survive_anything(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path))
    assert load_settings() == Settings()
    kept = Settings(theme="dark").with_recent(tmp_path / "a.yattle").with_recent(tmp_path / "b.yattle")
    keep_settings(kept)
    assert load_settings() == kept and kept.recent[0].endswith("b.yattle")
    (tmp_path / "yattle" / "settings.json").write_text("nonsense")
    assert load_settings() == Settings()


def test_a_run_knows_its_reason():
    assert Run(id="E1", pitch=0.0, length=1.0).pitch == 0
    with pytest.raises(InputError, match="one of E1"):
        run_of(DEMO, "E9")


OWN = OwnMetal(name="shed tin", density=7900.0, k=0.4, thickness=0.48, springback=1.05, source="the maker's sheet, 2026")


def test_a_metal_of_the_shop_s_own_is_used_everywhere():
    job = load(eaves_path())
    own = with_metal(job.but(metals=(OWN,)), "shed tin", 0.48)
    assert own.metal_name == "shed tin 0.48" and own.brake.springback.ratio == 1.05
    spec = common_of(own).metal
    assert (spec.density, spec.thickness, spec.allowance.k, spec.name) == (7900.0, 0.48, 0.4, "shed tin 0.48")
    again = Job.model_validate_json(own.model_dump_json())
    assert again == own and next_job(own).metals == (OWN,)
    assert all(part.metal == "shed tin 0.48" for part in derive(own).nest_job.parts)
    with pytest.raises(InputError, match="'shed tin'"):
        own.but(metals=())
    with pytest.raises(InputError, match="'shed tin' twice"):
        own.but(metals=(OWN, OWN))


@pytest.mark.parametrize("gauge", [0.48, 0.55, 0.63])
def test_gauges_that_are_not_usual_may_be_typed(gauge):
    job = load(eaves_path()).but(thickness=gauge)
    assert common_of(job).metal.thickness == gauge and job.metal_name.endswith(f"{gauge:.2f}")
    with pytest.raises(InputError, match=re.escape("0.2 to 1.75 mm for prepainted steel, usual is 0.5, 0.6, 0.7")):
        job.but(thickness=4.0)


@pytest.mark.parametrize("text", ["1,5", "=1,5", "'2,5", "E1-1", "a;b", 'say "so"', "-3", "x\ny", "1.5"])
def test_tables_of_both_styles_read_the_same(text):
    rows = [["piece", "mm", "price"], [text, "3.5", "-0.25"], ["", "12", "1e-3"]]
    plain = as_csv([(str(a), b, c) for a, b, c in [("piece", "mm", "price"), (text, 3.5, -0.25), ("", 12, "1e-3")]])
    assert rows_of(plain, "t") == rows
    other = in_style(plain, "semicolon")
    assert "3,5" in other and ";" in other and in_style(plain, "comma") == plain
    if text != "1.5":  # a text that is a number is a number
        assert rows_of(other, "t") == rows


def test_stock_goes_out_with_semicolons_and_comes_back():
    stock = load(demo_path()).stock
    assert stock_from_csv(in_style(stock_csv(stock), "semicolon")) == stock_from_csv(stock_csv(stock))
    assert [p.id for p in stock_from_csv(in_style(stock_csv(stock), "semicolon"))] == [p.id for p in stock]


def test_no_coil_is_counted_longer_than_it_was_delivered():
    job = load(eaves_path())
    coil = next(p for p in job.stock if p.kind == "coil")
    job = job.but(stock=(coil.but(length=20_000.0),), ledger=(LedgerEntry(when="2026-11-29", what="out", stock=coil.id, amount=5000.0),))
    with pytest.raises(InputError, match="at most 25000: no more was delivered"):
        with_counted(job, coil.id, 26_000.0, "2026-11-29")
    assert with_counted(job, coil.id, 24_000.0, "2026-11-29").stock[0].length == 24_000.0
