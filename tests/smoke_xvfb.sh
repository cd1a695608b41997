#!/usr/bin/env bash
# The program as a user starts it, in a real X window without a monitor: it must open the demo, stay alive, and end cleanly when asked to.
# usage: smoke_xvfb.sh FAIR_GAUGE
set -euo pipefail
home=$(mktemp -d)
trap 'rm -rf "$home"' EXIT
export XDG_DATA_HOME=$home XDG_CONFIG_HOME=$home XDG_RUNTIME_DIR=$home QT_QPA_PLATFORM=xcb
chmod 700 "$home"
bench="$home/fair-gauge/Violin workshop.fairgauge"
run() { # as many seconds after its bench is there
  timeout --preserve-status -s TERM 120 xvfb-run -a -s "-screen 0 1280x800x24" "${@:2}" >"$home/out" 2>&1 &
  local pid=$! code=0
  for _ in $(seq 600); do
    if [ -s "$bench" ] || ! kill -0 "$pid" 2>/dev/null; then break; fi
    sleep 0.1
  done
  sleep "$1"
  kill -TERM "$pid" 2>/dev/null || true
  wait "$pid" || code=$?
  # 143: ended by our TERM, so it was alive until then
  if [ "$code" -ne 143 ]; then cat "$home/out"; echo "ended with $code"; exit 1; fi
  if grep -qiE 'could not|failed|abort|segmentation|QObject::|QPainter' "$home/out"; then cat "$home/out"; exit 1; fi
}
run 4 "$1" --demo
test -s "$bench" || { cat "$home/out"; echo "no bench"; exit 1; }
# Killed while open: the bench must open again.
run 4 "$1" "$bench"
echo "smoke test passed"
