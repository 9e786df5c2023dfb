#!/usr/bin/env bash
# Makes the pictures in this folder anew from the demo data: docs/screenshots/make.sh TOOLS_DIR
# TOOLS_DIR holds shot-terminal.sh and shot-page.sh. Needs chromium, xvfb, xterm, imagemagick,
# LibreOffice's Writer and poppler-utils.
set -euo pipefail
tools=$(realpath "$1")
here=$(dirname "$(realpath "$0")")
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cd "$work"
softsieve=$(Rscript -e 'cat(system.file("exec", "softsieve", package = "softsieve"))')
cat > motives.R <<'R'
suppressPackageStartupMessages(library(softsieve))
motives <- questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe)
R
(cat motives.R; echo 'count_factors(motives, seed = 2026)') > number.R
(cat motives.R; echo 'factor_solution(motives, seed = 2026)') > solution.R
(cat motives.R; echo 'score_respondents(factor_solution(motives, seed = 2026), motives)') > scores.R
"$tools/shot-terminal.sh" "$here/scores.png" --rows 40 --title 'Rscript scores.R' -- Rscript scores.R >/dev/null
(cat motives.R; echo 'assess_reliability(motives, seed = 2026)') > reliability.R
"$tools/shot-terminal.sh" "$here/reliability.png" --rows 54 --title 'Rscript reliability.R' -- Rscript reliability.R >/dev/null
"$tools/shot-terminal.sh" "$here/command.png" --rows 60 --title 'softsieve demo' -- Rscript "$softsieve" demo >/dev/null
"$tools/shot-terminal.sh" "$here/number.png" --rows 60 --title 'Rscript number.R' -- Rscript number.R >/dev/null
"$tools/shot-terminal.sh" "$here/solution.png" --rows 54 --title 'Rscript solution.R' -- Rscript solution.R >/dev/null
"$tools/shot-terminal.sh" "$here/new.png" --rows 24 --title 'softsieve new repair_cafe_answers.csv' -- \
  Rscript "$softsieve" new softsieve-demo/repair_cafe_answers.csv --out . >/dev/null
Rscript "$softsieve" report softsieve-demo/repair_cafe_study.yml --out manuscript.docx --quiet >/dev/null
soffice --headless --convert-to pdf manuscript.docx >/dev/null 2>&1
for page in 1 2; do pdftoppm -r 70 -f $page -l $page -singlefile -png manuscript.pdf "word-$page"; done
convert word-1.png word-2.png +append "$here/word.png"
"$tools/shot-page.sh" softsieve-demo/results/report.html "$here/report.png" 1280 800
"$tools/shot-terminal.sh" "$here/plan.png" --rows 26 --title 'softsieve plan repair_cafe_design.yml --seed 1 --report plan.html' -- \
  Rscript "$softsieve" plan softsieve-demo/repair_cafe_design.yml --seed 1 --report plan.html >/dev/null
cat motives.R - > figures.R <<'R'
here <- commandArgs(TRUE)[1]
save <- function(x, name, ...) softsieve:::save_figure(ggplot2::autoplot(x, ...), file.path(here, name), height = if (name == "answers.png") 830 else 800)
save(profile_items(motives), "answers.png")
solution <- factor_solution(motives, seed = 2026)
named <- name_factors(solution, c("thrift", "planet", "mending", "neighbours"))
save(named, "plane.png", "people", factors = c("thrift", "neighbours"), group = "cafe", people = c("p0007", "p0040"))
scored <- score_respondents(form_scales(named), motives, errors = TRUE, also = "t_score", by = "cafe")
save(scored, "person.png", "person", people = c("p0007", "p0040"))
save(loading_stability(named, seed = 2026), "stability.png", wording = TRUE)
R
Rscript figures.R "$here"
cp softsieve-demo/results/{eigenvalues,loadings}.png "$here"
cat > gauges.R <<'R'
suppressPackageStartupMessages(library(softsieve))
log <- questionnaire(repair_log, visitors:kilograms, order = day, measured = TRUE,
  called = c(row = "day", column = "gauge"))
factor_solution(log, 2, method = "components", rotation = "varimax")
R
"$tools/shot-terminal.sh" "$here/gauges.png" --rows 34 --title 'Rscript gauges.R' -- Rscript gauges.R >/dev/null
# the page: needs playwright-core (.build/node of `make test`)
Rscript "$softsieve" page softsieve-demo/repair_cafe_study.yml --no-browser 2> page.log &
served=$!
trap 'kill $served 2>/dev/null; rm -rf "$work"' EXIT
for i in $(seq 100); do grep -q http page.log && break; sleep .3; done
node "$here/page.js" "$(grep -o 'http[^ ]*' page.log)" "$here" "$here/../../.build/node/node_modules"
# last, as it spoils the answers
sed -i '2s/,[1-5],/,"4,5",/' softsieve-demo/repair_cafe_answers.csv
"$tools/shot-terminal.sh" "$here/error.png" --rows 10 --title 'softsieve run repair_cafe_study.yml' -- Rscript "$softsieve" run softsieve-demo/repair_cafe_study.yml >/dev/null
