# The verbs of the command, in the order of its help. An entry has a label (what it does) and
#
#   target    what it is told to work on, as help shows it ("STUDY.yml", "[DIR]"), or NULL
#   needed    must there be a target? `unless`: an option with which there is none, and
#             what may stand beside it
#   options   names of OPTIONS (cli-options.R) that it takes; `own`: a list of further ones
#   entries   does it take entries of the study file as options (--factors.number 4)?
#   example   lines that can be run beside the demo's files
#   about     further lines of its help
#   then      what to do next, beneath what it shows (%s: its target)
#   reads     function(target): the files that are read, where the target is no study
#   run       function(target, options): what it does; returns a study or findings, by which
#             --strict judges, or NULL

VERBS <- family(
  new = spec(
    label = "look at a file of answers, and write a study file and a codebook to begin from",
    target = "ANSWERS", needed = TRUE, options = c("format", "full", "out", "plan", "quiet"),
    unless = list(option = "plan", beside = c("out", "quiet")),
    own = list(full = cli_option("full", "flag", "", "write every entry, with its default"),
      plan = cli_option("plan", "flag", "", "write a design to plan by: nobody has answered yet")),
    entries = FALSE,
    about = paste(
      "Writes NAME_study.yml and NAME_codebook.csv into --out DIR (here, when left out):",
      "proposals, with what speaks for each. Look at them before you run the study. Files that",
      "are there already are left alone. With --plan, and no answers, it writes design.yml for",
      "`softsieve plan`."),
    example = "softsieve new repair_cafe_answers.csv --out begun", run = verb_new),
  plan = spec(label = "how many people are needed, before anybody has answered",
    target = "DESIGN.yml", needed = TRUE,
    options = c("format", "out", "report", "seed", "threads", "quiet"), entries = FALSE,
    own = list(report = cli_option("report", "character", "FILE",
      "write a report, too: .html, .docx or .md")),
    about = paste(
      "DESIGN.yml, or the `design:` of a study file, holds arguments of planned_factors()",
      "(factors, items, loadings, correlations, answers, lean, missing, careless, clusters,",
      "blocks; pattern: a CSV file of loadings), of plan_study() (people, replicates, seed, kind,",
      "hidden, rules, resamples), or instead of people `wishes:` of people_needed(), such as",
      "right_number: 0.9 and loading_error: 0.08, and `most`."),
    example = "softsieve plan repair_cafe_design.yml --seed 1",
    reads = function(target) files_of_design(target), run = verb_plan),
  check = spec(label = "is a study whole and right? Reads everything, computes nothing",
    target = "DATA", needed = TRUE, options = c("codebook", "format", "quiet", "strict"),
    entries = TRUE, example = "softsieve check repair_cafe_study.yml", run = verb_check),
  run = spec(label = "run a study; everything it found goes into a folder", target = "STUDY.yml",
    needed = TRUE,
    options = c("codebook", "out", "format", "seed", "threads", "quiet", "strict", "fresh"),
    entries = TRUE,
    about = paste(
      "The folder (--out, `results` when left out) gets the report, all tables and figures, the",
      "solution and a study.yml with every default and the seed. Stages whose answers and settings",
      "have not changed since the last run are taken from the folder, unless --fresh is given."),
    example = "softsieve run repair_cafe_study.yml --out results", run = verb_run),
  items = spec(label = "how each item was answered", target = "DATA", needed = TRUE,
    options = WORK_OPTIONS, entries = TRUE,
    example = "softsieve items repair_cafe_answers.csv --codebook repair_cafe_codebook.csv",
    then = "`softsieve factorability %s` shows whether the items can be factored.",
    run = verb_up_to("items")),
  factorability = spec(label = "can the items be factored?", target = "DATA", needed = TRUE,
    options = WORK_OPTIONS, entries = TRUE,
    example = "softsieve factorability repair_cafe_study.yml --format markdown",
    then = "`softsieve count %s` weighs the number of factors.", run = verb_up_to("factorability")),
  count = spec(label = "how many factors?", target = "DATA", needed = TRUE, options = WORK_OPTIONS,
    entries = TRUE,
    example = "softsieve count repair_cafe_study.yml --seed 1 --factors.percentile 99",
    then = "`softsieve solve %s`; --factors.number N takes another number.",
    run = verb_up_to("count")),
  solve = spec(label = "extract and rotate factors: which item belongs to which", target = "DATA",
    needed = TRUE, options = WORK_OPTIONS, entries = TRUE,
    example = "softsieve solve repair_cafe_study.yml --factors.number 4 --out pattern.csv",
    about = "With --out NAME.json the whole solution is written, to score new people with.",
    then = "`softsieve sift %s` looks for weak items, `softsieve reliability` checks scales.",
    run = verb_solve),
  compare = spec(
    label = "the factors of two studies; without --with, how they split from number to number",
    target = "DATA", needed = TRUE, options = c(WORK_OPTIONS, "with"), entries = TRUE,
    about = paste(
      "Options count for both. A codebook given by --codebook is that of answers without a study.",
      "DATA and --with may be folders of `run`, whose numbers are taken as they are."),
    example = c("softsieve compare repair_cafe_study.yml --with repair_cafe_study.yml",
      "softsieve compare repair_cafe_study.yml --factors.number 5"),
    run = verb_compare),
  sift = spec(label = "take weak items out, one at a time, with a trail", target = "DATA",
    needed = TRUE, options = WORK_OPTIONS, entries = TRUE,
    example = "softsieve sift repair_cafe_study.yml --sift.communality 0.25 --sift.keep p6",
    then = "`softsieve reliability %s --sift.run yes` checks scales of the items left.",
    run = verb_sift),
  reliability = spec(label = "how far can each scale be trusted?", target = "DATA", needed = TRUE,
    options = WORK_OPTIONS, entries = TRUE,
    example = "softsieve reliability repair_cafe_study.yml --scales.replicates 200 --format csv",
    then = "`softsieve score %s` scores people.", run = verb_up_to("reliability")),
  score = spec(label = "scores of each person; of new people with a saved solution",
    target = "DATA", needed = TRUE, options = c(WORK_OPTIONS, "solution", "explain"),
    entries = TRUE,
    about = paste(
      "With --solution FILE.json (of `run`, or `solve --out FILE.json`) DATA is a file of new",
      "people, whose raw answers are keyed as the solution's were; scale scores stand beside those",
      "on factors. --answers.id and --answers.group name columns that stand beside the scores,",
      "--answers.out_of_range missing takes answers outside the scale for missing.",
      "--explain ROW (a number, or an id) shows the parts of that row's scores."),
    example = c("softsieve solve repair_cafe_study.yml --out solution.json",
      paste("softsieve score repair_cafe_answers.csv --solution solution.json --answers.id person",
        "--format csv")),
    then = "--format csv --out FILE.csv writes the scores of all people.", run = verb_score),
  report = spec(label = "run a study and write its report", target = "DATA", needed = TRUE,
    options = c(WORK_OPTIONS, "with"), entries = TRUE,
    about = paste(
      "--out says where (report.html when left out) and in which form: .html, .docx or .md.",
      "--with a second study puts the two side by side. DATA may be a folder of `run`, whose",
      "numbers are taken as they are; so are those of `results` beside the study, as far as they",
      "still hold."),
    example = "softsieve report repair_cafe_study.yml --out report.docx --language de",
    run = verb_report),
  demo = spec(label = "write the demo study into a folder (softsieve-demo) and run it",
    target = "[DIR]", needed = FALSE, options = c("threads", "quiet"), entries = FALSE,
    example = "softsieve demo", run = verb_demo))

# All options: OPTIONS, and those that a verb brings along (`own`).
known_options <- function() {
  own <- unlist(unname(lapply(VERBS, `[[`, "own")), recursive = FALSE)
  c(OPTIONS, own)
}
