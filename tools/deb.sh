#!/usr/bin/env bash
# A Debian package of this checkout into a folder; its path is printed. What Python packages it needs go with it, in a
# folder of their own. SITE: a folder of them to name in their place, of a machine that has them.
set -euo pipefail
cd "$(dirname "$0")/.."
OUT=${1:-dist} SITE=${SITE:-} PYTHON=${PYTHON:-python3}
if [ -x .venv/bin/python ]; then PYTHON=.venv/bin/python; fi
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
wheel=$(tools/wheel.sh "$work/wheel")
version=$("$PYTHON" -c 'import pathlib, re; print(re.search(r"\"(.+)\"", pathlib.Path("src/yattle/__init__.py").read_text().split("__version__")[1])[1])')
tree="$work/tree"
mkdir -p "$tree"/DEBIAN "$tree"/usr/bin "$tree"/usr/lib/yattle/site "$tree"/usr/share/{applications,mime/packages,metainfo,doc/yattle} \
  "$tree"/usr/share/icons/hicolor/scalable/apps
if [ -n "$SITE" ]; then
  "$PYTHON" -m pip install --quiet --disable-pip-version-check --no-deps --target "$tree/usr/lib/yattle/site" "$wheel" >&2
else
  "$PYTHON" -m pip install --quiet --disable-pip-version-check -c requirements.lock --target "$tree/usr/lib/yattle/site" "$wheel" >&2
fi
rm -rf "$tree/usr/lib/yattle/site/bin"
cat > "$tree/usr/bin/yattle" <<RUN
#!/bin/sh
PYTHONPATH="/usr/lib/yattle/site\${YATTLE_SITE:+:\$YATTLE_SITE}" exec python3 -m yattle "\$@"
RUN
chmod 755 "$tree/usr/bin/yattle"
cp packaging/yattle.desktop "$tree/usr/share/applications/"
cp packaging/yattle-mime.xml "$tree/usr/share/mime/packages/"
cp packaging/yattle.svg "$tree/usr/share/icons/hicolor/scalable/apps/"
cp packaging/yattle.metainfo.xml "$tree/usr/share/metainfo/org.yattle.Yattle.metainfo.xml"
cp LICENSE "$tree/usr/share/doc/yattle/copyright"
cat > "$tree/DEBIAN/control" <<CONTROL
Package: yattle
Version: $version
Section: science
Priority: optional
Architecture: $(dpkg --print-architecture)
Maintainer: the people who build Yattle <yattle@localhost>
Depends: python3 (>= 3.11), libegl1, libgl1, libfontconfig1, libglib2.0-0, libdbus-1-3, libxkbcommon0, libxkbcommon-x11-0, libxcb-cursor0, libxcb-icccm4, libxcb-image0, libxcb-keysyms1, libxcb-randr0, libxcb-render-util0, libxcb-shape0, libxcb-xinerama0, libxcb-xkb1
Installed-Size: $(du -sk "$tree/usr" | cut -f1)
Description: From a roof edge to a folded piece and a cut coil
 For sheet metal roofers: from a few measures of a roof every edge, flat patterns, girths and fold orders of its trim,
 a cutting plan on the coil, and the papers to take to the brake and onto the roof.
CONTROL
mkdir -p "$OUT"
dpkg-deb -z"${LEVEL:-6}" --root-owner-group --build "$tree" "$OUT" >&2
ls "$OUT/yattle_${version}_$(dpkg --print-architecture).deb"
