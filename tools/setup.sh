#!/usr/bin/env bash
# Virtual environment, Python packages, and the system libraries that Qt and a virtual display need.
set -euo pipefail
PYTHON=${PYTHON:-python3} VENV=${VENV:-.venv}
DEBIAN="xvfb xauth python3-venv libegl1 libgl1 libfontconfig1 libglib2.0-0 libdbus-1-3 libxkbcommon0
  libxkbcommon-x11-0 libxcb-cursor0 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0
  libxcb-shape0 libxcb-xinerama0 libxcb-xkb1"

missing=""
if command -v dpkg-query >/dev/null; then
  for package in $DEBIAN; do
    # a Python that brings its own venv does not need Debian's
    if [ "$package" = python3-venv ] && "$PYTHON" -c 'import ensurepip, venv' 2>/dev/null; then continue; fi
    dpkg-query -W -f='${Status}' "$package" 2>/dev/null | grep -q 'ok installed' || missing="$missing $package"
  done
fi
libraries=""
case "$missing" in *python3-venv*) now=1 ;; *) now=0 ;; esac
if [ -n "$missing" ]; then
  line="apt-get install -y --no-install-recommends$missing"
  if [ "$(id -u)" = 0 ]; then
    (apt-get update -qq && DEBIAN_FRONTEND=noninteractive $line) &  # beside the Python packages
  elif command -v sudo >/dev/null && sudo -n true 2>/dev/null; then
    (sudo apt-get update -qq && sudo DEBIAN_FRONTEND=noninteractive $line) &
  else
    echo "Some system libraries are missing. Run this line, then make again:" >&2
    echo "  sudo $line" >&2
    exit 1
  fi
  libraries=$!
  if [ "$now" = 1 ]; then wait "$libraries"; libraries=""; fi  # Python cannot begin without it
fi

"$PYTHON" - <<'PY'
import sys
if sys.version_info < (3, 11):
    sys.exit("Yattle needs Python 3.11 or newer; say PYTHON=python3.11 make …")
PY
[ -x "$VENV/bin/python" ] || "$PYTHON" -m venv "$VENV"
# The lock file is complete, so nothing is resolved; what it brings is compiled on all processors afterwards (what
# nobody runs left out), so that the first start is not the slow one.
put=("$VENV/bin/python" -m pip install --quiet --disable-pip-version-check --no-deps --no-compile)
"${put[@]}" -r <(awk 'NR % 2' requirements.lock) &  # one half beside the other: each takes one processor
half=$!
"${put[@]}" -r <(awk 'NR % 2 == 0' requirements.lock)
wait "$half"
"$VENV/bin/python" -m pip install --quiet --disable-pip-version-check --no-deps --no-build-isolation -e .
"$VENV/bin/python" -m compileall -q -j 0 -x '/(tests|pip|setuptools)/' "$VENV"/lib src >/dev/null || true
[ -z "$libraries" ] || wait "$libraries"
