#!/usr/bin/env bash
# The wheel of this checkout into a folder; its path is printed. PYTHON: with which Python.
set -euo pipefail
cd "$(dirname "$0")/.."
OUT=${1:-dist} PYTHON=${PYTHON:-python3}
if [ -x .venv/bin/python ]; then PYTHON=.venv/bin/python; fi
mkdir -p "$OUT"
rm -f "$OUT"/yattle-*.whl
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cp -r src pyproject.toml README.md LICENSE "$work"  # setuptools leaves a folder of its own where it builds
isolated=--no-build-isolation
"$PYTHON" -c 'import setuptools, wheel' 2>/dev/null || "$PYTHON" -c 'import setuptools; assert int(setuptools.__version__.split(".")[0]) >= 70' 2>/dev/null || isolated=""
"$PYTHON" -m pip wheel --quiet --disable-pip-version-check --no-deps $isolated -w "$OUT" "$work" >&2
ls "$OUT"/yattle-*.whl
