#!/usr/bin/env bash
# Writes what R's make reads beside the package's own, and prints nothing: makevars.sh FILE.
# A distribution's compiler flags add 30 MB of debug symbols, which are not ours. Where ccache is,
# the core is compiled once for tests and check together.
set -euo pipefail
echo 'CXXFLAGS = -O2' > "$1"
if command -v ccache > /dev/null; then
  echo "CXX = ccache $(R CMD config CXX)" >> "$1"
fi
