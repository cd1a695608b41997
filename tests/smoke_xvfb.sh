#!/usr/bin/env bash
# The program as a user starts it, in a real X window without a monitor: it must open the demo, stay alive, and end cleanly when asked to.
# usage: smoke_xvfb.sh FAIR_GAUGE
set -euo pipefail
home=$(mktemp -d)
trap 'rm -rf "$home"' EXIT
export XDG_DATA_HOME=$home XDG_CONFIG_HOME=$home XDG_RUNTIME_DIR=$home QT_QPA_PLATFORM=xcb
chmod 700 "$home"
run() {
  local code=0
  timeout --preserve-status -s TERM "$1" xvfb-run -a -s "-screen 0 1280x800x24" "${@:2}" >"$home/out" 2>&1 || code=$?
  # 143: ended by our TERM, so it was alive until then
  if [ "$code" -ne 143 ] && [ "$code" -ne 0 ]; then cat "$home/out"; echo "ended with $code"; exit 1; fi
  if grep -qiE 'could not|failed|abort|segmentation|QObject::|QPainter' "$home/out"; then cat "$home/out"; exit 1; fi
}
run 5 "$1" --demo
test -s "$home/fair-gauge/Violin workshop.fairgauge"
# Killed while open: the bench must open again.
run 4 "$1" "$home/fair-gauge/Violin workshop.fairgauge"
echo "smoke test passed"
