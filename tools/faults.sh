#!/usr/bin/env bash
# A machine that fails: the command is killed, hung up on, interrupted and starved of room, again and
# again, and what it leaves is looked at: bash tools/faults.sh [TIMES]
# Prints what did not hold, and a closing line. Exit status 1 when anything did not.
set -uo pipefail
times=${1:-100}
work=$(mktemp -d)
trap 'chmod -R u+w "$work" 2> /dev/null; rm -rf "$work"' EXIT
command=$(Rscript -e 'cat(system.file("exec/softsieve", package = "softsieve"))')
softsieve() { Rscript --no-save "$command" "$@"; }
bad=0
tried=0
early=0
told() { bad=$((bad + 1)); echo "not so: $*"; }

# A study of a few items and people, so that a run takes seconds; and the same with another number.
Rscript --no-save - "$work" <<'R'
work <- commandArgs(trailingOnly = TRUE)
suppressPackageStartupMessages(library(softsieve))
items <- c("m1", "m2", "m3", "m4", "t1", "t2", "t3", "t4")
write_table(repair_cafe[1:200, c("person", "cafe", items)], file.path(work, "answers.csv"))
book <- repair_cafe_codebook[repair_cafe_codebook$item %in% items, 1:5]
write_table(book, file.path(work, "codebook.csv"))
for (number in 1:2) {
  writeLines(
    c(
      "answers: {file: answers.csv, id: person, group: [cafe], missing_codes: [9]}",
      "codebook: codebook.csv",
      sprintf("factors: {number: %d, replicates: 40, starts: 2}", number),
      "scales: {replicates: 0}",
      "seed: 5"
    ),
    file.path(work, sprintf("study%d.yml", number))
  )
}
R
cd "$work" || exit 1
for number in 1 2; do
  softsieve run "study$number.yml" --out "whole$number" --quiet > /dev/null || told "a plain run $number"
done
sums() { (cd "$1" && find . -maxdepth 1 -type f ! -name '.softsieve-*' -exec md5sum {} + | sort -k 2); }
sums whole1 > sums1
sums whole2 > sums2
SECONDS=0
softsieve run study1.yml --out timed --quiet > /dev/null
length=$((SECONDS + 1))

# Every stage that was stored is whole, and what stands in the folder is all of one run.
look_at() {
  sums "$1" > now
  if [ -s now ] && ! cmp -s now sums1 && ! cmp -s now sums2; then
    told "$2: files of two runs, or half ones: $(diff now sums1 | grep '^<' | awk '{print $3}' | tr '\n' ' ')"
  fi
  for stage in "$1"/stages/*.json; do
    [ -e "$stage" ] || continue
    Rscript -e 'invisible(jsonlite::parse_json(readLines(commandArgs(TRUE)[1], warn = FALSE)))' "$stage" \
      2> /dev/null || told "$2: $stage is not whole"
  done
}

declare -A expected=([KILL]=137 [TERM]=143 [HUP]=129 [INT]=130)
signals=(KILL TERM HUP INT)
cp -r whole1 out
for i in $(seq 1 "$times"); do
  tried=$((tried + 1))
  signal=${signals[$((i % 4))]}
  setsid Rscript --no-save "$command" run "study$((i % 2 + 1)).yml" --out out --quiet > /dev/null 2> said &
  pid=$!
  sleep "$(awk -v n="$RANDOM" -v most="$length" 'BEGIN { printf "%.3f", n / 32768 * most }')"
  kill -s "$signal" "$pid" 2> /dev/null && killed=1 || killed=0
  wait "$pid"
  status=$?
  # R itself, interrupted before it reads the command's first line, says so in its own way
  if [ "$signal" = INT ] && [ "$status" = 1 ] && [ -z "$(grep -v '^$\|Execution halted' said)" ]; then
    status=130
    early=$((early + 1))
  fi
  if [ "$killed" = 1 ] && [ "$status" != "${expected[$signal]}" ] && [ "$status" != 0 ]; then
    told "$signal at moment $i: exit status $status ($(tail -1 said))"
  fi
  look_at out "$signal at moment $i"
done

softsieve run study2.yml --out out --quiet > /dev/null || told "the run after all these"
sums out > now
cmp -s now sums2 || told "the run after all these gives other files"
left=$(find out . -maxdepth 1 -name '.softsieve-*' | wc -l)
[ "$left" = 0 ] || told "$left hidden files are left after a whole run"

# Nothing is written where there is no room: the old file stands, the status is 1.
starved() { # what, folder, the command's words
  tried=$((tried + 1))
  local what=$1 folder=$2
  shift 2
  local before after
  before=$(cd "$folder" && find . -type f ! -name '.softsieve-*' ! -path '*/stages/*' -exec md5sum {} + 2> /dev/null | sort)
  "$@" > /dev/null 2> said
  local status=$?
  [ "$status" = 1 ] || told "$what: exit status $status ($(tail -1 said))"
  grep -q '^softsieve: ' said || told "$what: it does not say why ($(tail -1 said))"
  after=$(cd "$folder" && find . -type f ! -name '.softsieve-*' ! -path '*/stages/*' -exec md5sum {} + 2> /dev/null | sort)
  [ "$before" = "$after" ] || told "$what: something was written"
}
mkdir -p small
if mount -t tmpfs -o size=48k tmpfs small 2> /dev/null; then
  for name in r.html r.md r.docx; do
    starved "a full disk, $name" small softsieve report study1.yml --out "small/$name" --quiet
  done
  starved "a full disk, run" small softsieve run study1.yml --out small/out --quiet
  starved "a full disk, scores" small softsieve score study1.yml --out small/s.csv --answers.file answers.csv --format json --quiet
  umount small
else
  echo "(no small disk could be made here: left out)"
fi
mkdir -p limited
starved "a limit on the size of files" limited \
  bash -c "trap '' XFSZ; ulimit -f 8; Rscript --no-save '$command' report study1.yml --out limited/r.html --quiet"
mkdir -p in-the-way/r.html in-the-way/out/items.csv
ln -s /nowhere/at/all in-the-way/link.html
mkfifo in-the-way/pipe.html
starved "a folder in the way" in-the-way softsieve report study1.yml --out in-the-way/r.html --quiet
starved "a folder among the results" in-the-way softsieve run study1.yml --out in-the-way/out --quiet
starved "a link to nothing" in-the-way softsieve report study1.yml --out in-the-way/link.html --quiet
starved "a pipe in the way" in-the-way softsieve report study1.yml --out in-the-way/pipe.html --quiet
starved "a device in the way" /dev/shm softsieve score study1.yml --out /dev/null --format csv --quiet
[ -c /dev/null ] || told "the null device is gone"
if [ "$(id -u)" != 0 ]; then
  mkdir -p closed
  chmod a-w closed
  starved "a folder that may not be written to" closed softsieve report study1.yml --out closed/r.html --quiet
fi
tried=$((tried + 1))
softsieve items study1.yml --quiet 2> said | head -n 1 > /dev/null
[ "${PIPESTATUS[0]}" = 0 ] || told "a pipe that closes early: $(tail -1 said)"

echo "$tried faults, $bad did not hold ($early interrupts came before the command's first line: status 1)"
[ "$bad" = 0 ]
