"""Getting it: `make install` into a clean folder and away again, the wheel by itself, the Debian package unpacked: each runs without the
checkout, with the Python packages of this environment."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import sysconfig
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[2]
SITE = sysconfig.get_path("purelib")


def run(*command, cwd, **more):
    env = {key: value for key, value in os.environ.items() if not key.startswith("PYTHON")} | {
        "XDG_CONFIG_HOME": str(cwd / "config"), "XDG_STATE_HOME": str(cwd / "state"), "QT_QPA_PLATFORM": "offscreen"} | more
    done = subprocess.run([str(part) for part in command], cwd=cwd, env=env, capture_output=True, text=True, check=False)
    assert done.returncode == 0, done.stdout + done.stderr
    return done.stdout


def test_the_program_is_there_without_the_checkout_opens_its_window_and_goes_away_again(tmp_path):
    """How long the window takes the first time is in the benchmarks."""
    local = tmp_path / "local"
    run("bash", ROOT / "tools" / "install.sh", "put", cwd=tmp_path, PREFIX=str(local), PYTHON=sys.executable, SITE=SITE,
        BUILD=str(tmp_path / "build"), WARM="no")
    installed = tmp_path
    code = ("from yattle.ui.app import make_app, make_window; app = make_app(); w = make_window(None); w.show(); app.processEvents();"
            "assert w.pages.currentWidget() is w.start")
    run(local / "lib" / "yattle" / "bin" / "python", "-c", code, cwd=installed)
    program = local / "bin" / "yattle"
    demo = Path(run(program, "demo-path", cwd=installed).strip())
    assert demo.is_file() and installed in demo.parents, "its own demo, not the checkout's"
    answer = json.loads(run(program, "built", demo, cwd=installed))
    assert answer["format"] == "yattle-built/1" and answer["ok"]
    entry = (local / "share" / "applications" / "yattle.desktop").read_text()
    assert f"Exec={program} open %f" in entry and "MimeType=application/x-yattle-job" in entry
    for part in ("mime/packages/yattle-mime.xml", "icons/hicolor/scalable/apps/yattle.svg", "metainfo/org.yattle.Yattle.metainfo.xml"):
        assert (local / "share" / part).stat().st_size > 100
    kept = installed / "local" / "share" / "mine.yattle"
    shutil.copy(demo, kept)
    run("bash", ROOT / "tools" / "install.sh", "away", cwd=installed, PREFIX=str(local))
    left = [path for path in local.rglob("*") if path.is_file() and "mime" not in path.parts and path.name != "mimeinfo.cache"]
    assert left == [kept], "what is the person's own stays"


def test_the_wheel_has_all_that_it_needs(tmp_path):
    """Put into a folder by itself and run from there: fonts, guide, demos, panel systems, schemas."""
    wheel = run("bash", ROOT / "tools" / "wheel.sh", tmp_path / "dist", cwd=tmp_path).strip()
    run(sys.executable, "-m", "pip", "install", "--quiet", "--no-deps", "--target", tmp_path / "site", wheel, cwd=tmp_path)
    code = ("import sys; sys.path[:0] = [r'%s']; import yattle; from yattle.help import pages; from yattle.panels import library;"
            "from yattle.ui.app import make_app; from yattle.ui.frame.help_box import HelpBox; from yattle.job import demo_path, load;"
            "app = make_app(); box = HelpBox(None, 'survey'); assert not box.page.loadResource(2, __import__('PyQt6.QtCore').QtCore.QUrl("
            "'pictures/survey.png')) is None; print(yattle.__file__, len(pages()), len(library()), load(demo_path()).name)" % (tmp_path / "site"))
    said = run(sys.executable, "-c", code, cwd=tmp_path)
    assert str(tmp_path / "site") in said and "sail loft" in said


@pytest.mark.skipif(shutil.which("dpkg-deb") is None, reason="no Debian here")
def test_the_debian_package_unpacked_runs(tmp_path):
    package = run("bash", ROOT / "tools" / "deb.sh", tmp_path / "dist", cwd=tmp_path, SITE=SITE, LEVEL="0").strip()
    run("dpkg-deb", "-x", package, tmp_path / "tree", cwd=tmp_path)
    control = run("dpkg-deb", "-f", package, cwd=tmp_path)
    assert "Package: yattle" in control and "libxcb-cursor0" in control
    lib = tmp_path / "tree" / "usr" / "lib" / "yattle" / "site"
    said = run(sys.executable, "-c", f"import sys; sys.path[:0] = [r'{lib}']; from yattle.cli import main; sys.exit(main(['demo-path']))", cwd=tmp_path)
    assert str(lib) in said
    listed = {str(path.relative_to(tmp_path / "tree")) for path in (tmp_path / "tree").rglob("*")}
    assert {"usr/bin/yattle", "usr/share/applications/yattle.desktop", "usr/share/icons/hicolor/scalable/apps/yattle.svg",
            "usr/share/mime/packages/yattle-mime.xml", "usr/share/metainfo/org.yattle.Yattle.metainfo.xml"} <= listed
