#!/usr/bin/env bash
# fgauge converting a CSV of a million rows and five columns, against mawk summing one of them. In turn, median of the ratios.
# usage: csv.sh FGAUGE
set -euo pipefail
fgauge=$1
folder=$(mktemp -d)
trap 'rm -rf "$folder"' EXIT
data=$(cd "$(dirname "$0")/.." && pwd)/data
mawk 'BEGIN { print "time,pot,air,cupboard,note"; srand(1); for (i = 0; i < 1000000; ++i) printf "%d.%03d,%d,%d,%d,row number %d of many\n", i / 4, (i % 4) * 250, 1 + int(rand() * 4094), int(rand() * 1023), int(rand() * 4095), i }' >"$folder/raw.csv"
seconds() { local begin=$EPOCHREALTIME; "$@" >/dev/null; local end=$EPOCHREALTIME; echo $(( ${end/./} - ${begin/./} )); }
sum() { mawk -F, '{ s += $2 } END { print s }' "$folder/raw.csv"; }
convert() { "$fgauge" convert --gauge "$data/demo/glue-pot.json" --in "$folder/raw.csv" --out "$folder/out.csv"; }
sum >/dev/null; convert
for _ in 1 2 3 4 5 6 7; do
  echo "$(seconds convert) $(seconds sum)"
done | mawk '{ print $1 / $2, $1, $2 }' | sort -n | mawk 'NR == 4 { printf "ratio  fgauge convert / mawk sum       %5.2f   (wanted: at most 1; %.0f ms against %.0f ms)\n", $1, $2 / 1000, $3 / 1000 }'
