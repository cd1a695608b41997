#!/usr/bin/env bash
# Process start to first paint and peak memory, the real window on a bench against an empty QMainWindow, run in turn. usage: window.sh BIN_FOLDER
set -euo pipefail
export QT_QPA_PLATFORM=offscreen
bin=$1
home=$(mktemp -d)
trap 'rm -rf "$home"' EXIT
export XDG_DATA_HOME=$home XDG_RUNTIME_DIR=$home
chmod 700 "$home"
measure() { local begin=$EPOCHREALTIME; local memory; memory=$("$@"); local end=$EPOCHREALTIME; echo "$(( ${end/./} - ${begin/./} )) $memory"; }
measure "$bin/window_bench" "$home/bench.fairgauge" everything >/dev/null
compare() { # what, wanted, arguments of the real one
  for _ in 1 2 3 4 5 6 7 8 9 10 11; do
    echo "$(measure "$bin/window_bench" "$home/bench.fairgauge" "${@:3}") $(measure "$bin/window_bench" empty)"
  done | mawk -v what="$1" -v wanted="$2" '{ print $1 / $3, $2 / $4, $1, $3, $2, $4 }' | sort -n | mawk -v what="$1" -v wanted="$2" 'NR == 6 {
    printf "ratio  %-22s / empty   %5.2f   (%s; %.0f ms against %.0f ms; memory %.2f, %.0f MiB against %.0f MiB)\n", what, $1, wanted, $3 / 1000, $4 / 1000, $2, $5 / 1024, $6 / 1024 }'
}
compare "window, first paint" "wanted: at most 2.2"
compare "window, everything" "wanted: at most 5; memory at most 1.8" everything
