#!/usr/bin/env bash
# Builds the package with the address and undefined-behaviour sanitizers and runs its tests of the
# numbers in it: bash tools/sanitize-package.sh [TEST ...] (names of tests; all but those that start
# processes of their own when left out).
set -euo pipefail
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
mkdir "$work/library"
cat > "$work/Makevars" <<'M'
CXXFLAGS = -O1 -g -fno-omit-frame-pointer
CXX = g++ -fsanitize=address,undefined -fno-sanitize-recover=undefined
LDFLAGS = -fsanitize=address,undefined
M
export R_MAKEVARS_USER=$work/Makevars MAKEFLAGS=-j2
cp -r DESCRIPTION NAMESPACE R src data exec inst man "$work/" 2> /dev/null
mkdir "$work/tree"
mv "$work"/{DESCRIPTION,NAMESPACE,R,src,data,exec,inst,man} "$work/tree/"
rm -f "$work"/tree/src/*.o "$work"/tree/src/*.so
# the library asks for the sanitizer's runtime when it is loaded, so it is not loaded here
R CMD INSTALL --no-test-load --no-byte-compile --no-docs --library="$work/library" "$work/tree" \
  > "$work/install.log" 2>&1 || { tail -40 "$work/install.log"; exit 1; }
tests=("$@")
[ "${#tests[@]}" -gt 0 ] || mapfile -t tests < <(cd tests/testthat && ls test-*.R | sed 's/^test-//; s/[.]R$//' \
  | grep -v -E '^(command|report|examples|house|doors|files|awkward|formula)$')
LD_PRELOAD="$(g++ -print-file-name=libasan.so) $(g++ -print-file-name=libubsan.so)" \
ASAN_OPTIONS=detect_leaks=0:detect_odr_violation=0 R_LIBS="$work/library" NOT_CRAN=true \
  Rscript --no-save -e '
    suppressPackageStartupMessages({ library(testthat); library(softsieve) })
    bad <- 0
    for (name in commandArgs(trailingOnly = TRUE)) {
      file <- sprintf("tests/testthat/test-%s.R", name)
      got <- as.data.frame(test_file(file, package = "softsieve", reporter = "silent",
        stop_on_failure = FALSE))
      wrong <- sum(got$failed) + sum(got$error)
      cat(sprintf("%s: %d passed, %d failed\n", name, sum(got$passed), wrong))
      bad <- bad + wrong
    }
    quit(status = as.integer(bad > 0))
  ' "${tests[@]}"
echo "sanitizers (package): no report"
