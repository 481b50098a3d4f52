#!/usr/bin/env bash
# The window on the demo job; on a virtual display where there is none.
set -euo pipefail
BIN=${1:-.venv/bin}
JOB=$("$BIN/yattle" demo-path)
if [ -n "${DISPLAY:-}" ] || [ -n "${WAYLAND_DISPLAY:-}" ]; then
  exec "$BIN/yattle" open "$JOB"
fi
echo "There is no display here: the window opens on a virtual one (stop it with Ctrl+C)."
echo "For a picture of it run:  make picture"
exec xvfb-run -a -s "-screen 0 1280x800x24" "$BIN/yattle" open "$JOB"
