#!/usr/bin/env bash
# Each entry of the core under libFuzzer with the address and undefined-behaviour sanitizers:
# bash tools/fuzz-core.sh [SECONDS] [ENTRY ...]. Needs clang. What breaks is kept in .build/fuzz-core.
set -euo pipefail
seconds=${1:-300}
shift || true
entries=("$@")
[ "${#entries[@]}" -gt 0 ] || entries=(coding polychoric em search rotation prediction subsets evidence reliability align tally cells)
out=.build/fuzz-core
mkdir -p "$out"
include=$(Rscript -e 'cat(paste0("-isystem ", vapply(c("RcppEigen", "sitmo"), function(p) system.file("include", package = p), "")))')
flags=(-std=c++14 -O1 -g "-fsanitize=fuzzer-no-link,address,undefined" -fno-sanitize-recover=all -Isrc)
for file in src/core_*.cpp; do
  object=$out/$(basename "$file" .cpp).o
  if [ "$file" -nt "$object" ]; then
    # shellcheck disable=SC2086
    clang++ "${flags[@]}" $include -c "$file" -o "$object"
  fi
done
for entry in "${entries[@]}"; do
  # shellcheck disable=SC2086
  clang++ "${flags[@]}" -fsanitize=fuzzer "-DENTRY=fuzz_$entry" -Wno-unused-function $include \
    tools/core-fuzz.cpp "$out"/core_*.o -o "$out/$entry" -pthread
  mkdir -p "$out/seen-$entry"
  (cd "$out" && "./$entry" -max_total_time="$seconds" -timeout=10 -rss_limit_mb=4096 -max_len=4096 \
    -print_final_stats=1 "seen-$entry" > "$entry.log" 2>&1) || { tail -40 "$out/$entry.log"; exit 1; }
  echo "$entry: $(grep -o 'number_of_executed_units: [0-9]*' "$out/$entry.log" | grep -o '[0-9]*') inputs, no report"
done
