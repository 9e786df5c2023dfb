#!/usr/bin/env bash
# R CMD check of the built package. Fails on any error, warning or note.
# The manual is left out where there is no LaTeX; tests run by `make test`, not twice.
set -euo pipefail
# what make passes down names a job server that R's own make cannot reach: it would compile one file at a time
export MAKEFLAGS=-j2
root=$PWD
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cd "$work"
export _R_CHECK_FORCE_SUGGESTS_=false _R_CHECK_SYSTEM_CLOCK_=0 _R_CHECK_CRAN_INCOMING_=false
bash "$root/tools/makevars.sh" Makevars
export R_MAKEVARS_USER=$work/Makevars
git -C "$root" ls-files -z --cached --others --exclude-standard | tar -C "$root" --null -cf - -T - | (mkdir tree && tar -C tree -xf -)
R CMD build tree > build.log 2>&1 || { tail -40 build.log; exit 1; }
# the vignettes were built a line ago: their code is run once more, they are not built again
R CMD check --no-manual --no-tests --no-build-vignettes softsieve_*.tar.gz > check.log 2>&1 || { grep -v ' OK$' check.log; tail -60 softsieve.Rcheck/00install.out; exit 1; }
# articles of the site are no part of the package: that they still run is asked here
for article in "$root"/vignettes/articles/*.Rmd; do
  R_LIBS=softsieve.Rcheck Rscript -e 'rmarkdown::render(commandArgs(TRUE), output_dir = ".", intermediates_dir = ".", quiet = TRUE)' \
    "$article" > article.log 2>&1 || { tail -20 article.log; exit 1; }
done
du -sk softsieve.Rcheck/softsieve | sed 's/[^0-9].*/ kB installed (R tells of more than 5,120)/'
grep -E '^Status:' check.log
if ! grep -q '^Status: OK' check.log; then
  grep -A12 -E 'NOTE$|WARNING$|ERROR$' check.log
  exit 1
fi
