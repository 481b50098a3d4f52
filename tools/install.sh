#!/usr/bin/env bash
# Yattle for the person who runs this: the program, its entry in the desktop's menu, icon, file type.
#   tools/install.sh put   installs from this checkout, tools/install.sh away  takes all of it off again.
# PREFIX: where to, PYTHON: with which Python, SITE: a folder of Python packages to use in the place of fetching them.
set -euo pipefail
cd "$(dirname "$0")/.."
PREFIX=${PREFIX:-$HOME/.local} PYTHON=${PYTHON:-python3} SITE=${SITE:-}
HOME_OF_IT="$PREFIX/lib/yattle" SHARE="$PREFIX/share"
FILES=("$PREFIX/bin/yattle" "$SHARE/applications/yattle.desktop" "$SHARE/mime/packages/yattle-mime.xml"
  "$SHARE/icons/hicolor/scalable/apps/yattle.svg" "$SHARE/metainfo/org.yattle.Yattle.metainfo.xml")

tell_the_desktop() {
  if command -v update-desktop-database >/dev/null; then update-desktop-database -q "$SHARE/applications" || true; fi
  if command -v update-mime-database >/dev/null; then update-mime-database "$SHARE/mime" >/dev/null 2>&1 || true; fi
}

put() {
  "$PYTHON" -c 'import sys; sys.exit(sys.version_info < (3, 11) and "Yattle needs Python 3.11 or newer: PYTHON=python3.11")'
  rm -rf "$HOME_OF_IT"
  "$PYTHON" -m venv "$HOME_OF_IT"
  python="$HOME_OF_IT/bin/python"
  if [ -n "$SITE" ]; then
    echo "$SITE" > "$("$python" -c 'import sysconfig; print(sysconfig.get_path("purelib"))')/yattle-site.pth"
    "$python" -m pip install --quiet --disable-pip-version-check --no-deps "$1"
  else
    "$python" -m pip install --quiet --disable-pip-version-check -c requirements.lock "$1"
  fi
  "$python" -m compileall -q -j 0 -x '/(tests|pip|setuptools)/' "$HOME_OF_IT/lib" >/dev/null || true
  mkdir -p "$PREFIX/bin" "$SHARE/applications" "$SHARE/mime/packages" "$SHARE/icons/hicolor/scalable/apps" "$SHARE/metainfo"
  ln -sf "$HOME_OF_IT/bin/yattle" "$PREFIX/bin/yattle"
  sed "s|^Exec=yattle|Exec=$PREFIX/bin/yattle|" packaging/yattle.desktop > "$SHARE/applications/yattle.desktop"
  cp packaging/yattle-mime.xml "$SHARE/mime/packages/"
  cp packaging/yattle.svg "$SHARE/icons/hicolor/scalable/apps/"
  cp packaging/yattle.metainfo.xml "$SHARE/metainfo/org.yattle.Yattle.metainfo.xml"
  tell_the_desktop
  # the search is compiled now, so that the first plan is not the slow one; WARM=no leaves that to the first plan
  [ "${WARM:-yes}" = no ] || "$python" -c 'from time import perf_counter as now; from yattle.coil.warm import ready; ready(now() + 600)'
  echo "Yattle is installed: $PREFIX/bin/yattle, and in the desktop's menu."
}

away() {
  rm -rf "$HOME_OF_IT"
  rm -f "${FILES[@]}"
  tell_the_desktop
  echo "Yattle is gone; jobs and settings of yours are where they were."
}

case "${1:-}" in
  put) put "$(tools/wheel.sh "${BUILD:-build/wheel}")" ;;
  away) away ;;
  *) echo "tools/install.sh put | away" >&2; exit 2 ;;
esac
