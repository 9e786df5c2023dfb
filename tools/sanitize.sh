#!/usr/bin/env bash
# Builds the core without R and runs it under the sanitizers (with clang: g++ takes minutes a file).
set -euo pipefail
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
include=$(Rscript -e 'cat(paste0("-isystem ", vapply(c("RcppEigen", "sitmo"), function(p) system.file("include", package = p), "")))')
for kind in address,undefined thread; do
  flags="-std=c++14 -O1 -g -Wall -Wextra -Wpedantic -fno-sanitize-recover=all -fsanitize=$kind -Isrc $include"
  # shellcheck disable=SC2086
  printf '%s\n' tools/core-driver.cpp src/core_*.cpp |
    xargs -P "$(nproc)" -I{} sh -c "clang++ $flags -c {} -o $work/\$(basename {} .cpp).o"
  clang++ "-fsanitize=$kind" "$work"/*.o -o "$work/driver" -pthread
  "$work/driver"
  echo "sanitizers ($kind): clean"
done
