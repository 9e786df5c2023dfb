#!/usr/bin/env bash
# Builds the package with the address and undefined-behaviour sanitizers and runs its tests of the
# numbers in it: bash tools/sanitize-package.sh [TEST ...] (names of tests; all but those that start
# processes of their own when left out). Needs clang: g++ compiles a file like this for minutes.
set -euo pipefail
work=$(pwd)/.build/sanitize-package
rm -rf "$work/tree"
mkdir -p "$work/library" "$work/tree"
cat > "$work/Makevars" <<'M'
CXXFLAGS = -O1 -g1 -fno-omit-frame-pointer
CXX = clang++ -fsanitize=address,undefined -fno-sanitize-recover=undefined -shared-libasan
CXX14 = $(CXX)
CXX17 = $(CXX)
LDFLAGS = -fsanitize=address,undefined -shared-libasan
M
export R_MAKEVARS_USER=$work/Makevars MAKEFLAGS=-j2
cp -r DESCRIPTION NAMESPACE R src data exec inst man "$work/tree/"
rm -f "$work"/tree/src/*.o "$work"/tree/src/*.so
# built again only where something changed
sum=$(cd "$work/tree" && find . -type f -print0 | sort -z | xargs -0 md5sum | md5sum)
# the library asks for the sanitizer's runtime when it is loaded, so it is not loaded here
if [ "$sum" != "$(cat "$work/sum" 2> /dev/null)" ]; then
  R CMD INSTALL --no-test-load --no-byte-compile --no-docs --library="$work/library" "$work/tree" \
    > "$work/install.log" 2>&1 || { tail -40 "$work/install.log"; exit 1; }
  echo "$sum" > "$work/sum"
fi
tests=("$@")
[ "${#tests[@]}" -gt 0 ] || mapfile -t tests < <(cd tests/testthat && ls test-*.R | sed 's/^test-//; s/[.]R$//' \
  | grep -v -E '^(base-ranges|cli-main|page-open|page-work|score-worked)$')
# R itself does not know the C++ library, whose exceptions the sanitizer must find when it starts
LD_PRELOAD="$(clang++ -print-file-name=libclang_rt.asan-x86_64.so) \
$(clang++ -print-file-name=libstdc++.so.6)" \
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
