# Data that several tests share. All of it is made up.

motives <- function(...) {
  questionnaire(repair_cafe, codebook = repair_cafe_codebook, id = person, group = cafe, ...)
}

solution4 <- function() factor_solution(motives(), 4, seed = 1, starts = 5)

# 600 people's answers to three topics of five items, the last of each of which is worded in reverse
# and shares that with the other two.
worded_answers <- function() {
  reversed <- c(5, 10, 15)
  loadings <- cbind(kronecker(diag(3), rep(.6, 5)), replace(numeric(15), reversed, .65))
  r <- tcrossprod(loadings)
  diag(r) <- 1
  set.seed(1)
  x <- matrix(rnorm(600 * 15), 600) %*% chol(r)
  x[, reversed] <- -x[, reversed]
  as.data.frame(x)
}

# A pattern of 9 items on 3 correlated factors, and the correlations it implies exactly.
known_pattern <- function() {
  pattern <- matrix(0, 9, 3, dimnames = list(paste0("i", 1:9), NULL))
  pattern[1:3, 1] <- c(.8, .7, .6)
  pattern[4:6, 2] <- c(.75, .65, .55)
  pattern[7:9, 3] <- c(.7, .6, .5)
  pattern
}
known_between <- function() matrix(c(1, .3, .2, .3, 1, .4, .2, .4, 1), 3)
known_correlations <- function(pattern = known_pattern(), between = known_between()) {
  r <- pattern %*% between %*% t(pattern)
  diag(r) <- 1
  r
}

# Answers of `people` to unrelated items, from 1 to 5.
unrelated_answers <- function(people, items, seed = 1) {
  set.seed(seed)
  as.data.frame(matrix(sample(5, people * items, replace = TRUE), people,
    dimnames = list(NULL, paste0("q", seq_len(items)))))
}

local_file <- function(lines, ext = ".csv", env = parent.frame()) {
  file <- withr::local_tempfile(fileext = ext, .local_envir = env)
  writeLines(lines, file)
  file
}

# A page or text that was written, its pictures left out (to search their letters takes long).
page_text <- function(file) {
  lines <- readLines(file, warn = FALSE, encoding = "UTF-8")
  paste(gsub("base64,[^\"]*", "base64,", lines, perl = TRUE), collapse = "\n")
}

# Runs the command in this process. Returns its exit status, and what it wrote to stdout and stderr.
run_command <- function(args, dir = getwd()) {
  withr::local_dir(dir)
  err <- capture.output(type = "message", {
    out <- capture.output(status <- softsieve:::cli_main(args))
  })
  list(status = status, out = out, err = err)
}

# The same as a process of its own, as a shell runs it.
run_process <- function(args, dir = getwd()) {
  out <- withr::local_tempfile()
  err <- withr::local_tempfile()
  withr::local_dir(dir)
  command <- system.file("exec", "softsieve", package = "softsieve")
  status <- suppressWarnings(system2(file.path(R.home("bin"), "Rscript"),
    c("--no-save", shQuote(command), shQuote(args)), stdout = out, stderr = err))
  list(status = status, out = readLines(out, warn = FALSE), err = readLines(err, warn = FALSE))
}

# Eigenvalues of samples of normal people, by the core: `root` is the population's Cholesky factor.
drawn_eigenvalues <- function(people, items, replicates, root = matrix(0, 0, 0),
    basis = "components", first = 0L, seed = 1, threads = 1L, progress = NULL) {
  softsieve:::cpp_sample_eigenvalues(people, items, root, basis, first, replicates, seed, threads,
    progress)
}

# Value and gradient of a rotation criterion of the core.
criterion_at <- function(loadings, criterion, parameter = 0, ...) {
  softsieve:::cpp_criterion(loadings, softsieve:::core_request(criterion, parameter, ...))
}

rotate_plain <- function(a, t) a %*% solve(t(t))

# `n` rows whose sample correlations are exactly r.
with_correlations <- function(r, n, seed = 1) {
  set.seed(seed)
  z <- scale(matrix(rnorm(n * ncol(r)), n))
  z <- z %*% solve(chol(cov(z)))
  `colnames<-`(z %*% chol(r), paste0("i", seq_len(ncol(r))))
}

# The demo study in `dir`, with few draws, with lines added and lines that match `drop` left out;
# its path.
demo_study <- function(dir, lines = character(), drop = character()) {
  file.copy(list.files(system.file("extdata", package = "softsieve"), full.names = TRUE), dir)
  file <- file.path(dir, "repair_cafe_study.yml")
  old <- readLines(file)
  old <- sub("^( *)(rotation: oblimin)", "\\1\\2\n\\1replicates: 60\n\\1starts: 5", old)
  if (!any(grepl("^scales:", lines))) lines <- c(lines, "scales: {replicates: 60}")
  for (pattern in drop) old <- old[!grepl(pattern, old)]
  writeLines(c(old, lines), file)
  file
}

# The demo study as it is shipped, run once for all tests of a file, or for all files
# (tools/run-tests.R runs it before it shares them out).
demo_run <- function() {
  if (is.null(getOption("softsieve.tests.demo"))) {
    file <- system.file("extdata", "repair_cafe_study.yml", package = "softsieve")
    options(softsieve.tests.demo = run_study(file))
  }
  getOption("softsieve.tests.demo")
}

# Adds an entry to a family ("ROTATIONS"; `class`, where the family has one list for each) for
# the rest of a test.
local_entry <- function(family, name, ..., reference = NA_character_, class = NULL, after = NULL,
    env = parent.frame()) {
  space <- asNamespace("softsieve")
  before <- get(family, space)
  put <- function(value) {
    assign("entries", NULL, envir = space$FOUND) # (made of families)
    unlockBinding(family, space)
    assign(family, value, space)
    lockBinding(family, space)
  }
  withr::defer(put(before), envir = env)
  entry <- list(c(list(name = name, reference = reference), list(...)))
  names(entry) <- name
  place <- if (is.null(after)) length(before) else match(after, names(before), nomatch = 0)
  changed <- if (is.null(class)) append(before, entry, place) else before
  if (!is.null(class)) changed[[class]] <- c(before[[class]], entry)
  put(changed)
}

# A study of eight items and 150 people, for what would take long with more.
FEW_ITEMS <- c("m1", "m2", "m3", "m4", "t1", "t2", "t3", "t4")
few_answers <- function() repair_cafe[1:150, c("person", "cafe", FEW_ITEMS)]
few_book <- function() repair_cafe_codebook[repair_cafe_codebook$item %in% FEW_ITEMS, ]

few_study <- function(dir) {
  write_table(few_answers(), file.path(dir, "answers.csv"))
  write_table(few_book()[1:5], file.path(dir, "codebook.csv"))
  file <- file.path(dir, "study.yml")
  writeLines(c("answers: {file: answers.csv, id: person, group: [cafe], missing_codes: [9]}",
    "codebook: codebook.csv", "factors: {number: 2, replicates: 40, starts: 2}",
    "scales: {replicates: 0}", "seed: 5"), file)
  file
}

# One result of every class, from a questionnaire and a solution of it.
one_of_each <- function(q, s, dir) {
  list(q, profile_items(q), profile_respondents(q), correlate_items(q),
    tabulate_items(q$values$answers |> as.data.frame(), ends = c(1, 5)), assess_factorability(q),
    parallel_analysis(q, replicates = 20, seed = 1),
    count_factors(q, rules = "bic", replicates = 20, seed = 1), s, pattern_table(s),
    component_layers(extract_components(q, 2)), hierarchical_form(s),
    wording_factor(motives(items = m1:t6), 2, items = c("m4", "t3", "t4"), seed = 1),
    information_curves(factor_solution(motives(items = m1:m6), 1, kind = "polychoric")),
    name_factors(s), compare_solutions(s, rotate_factors(s, "varimax", seed = 1)),
    solution_ladder(s, seed = 1), hidden_factors(s, samples = 20, seed = 1),
    plan_study(planned_factors(2, items = 4), 100, replicates = 20, seed = 1),
    factor_solution(q, 2, by = "cafe", starts = 3, replicates = 20, seed = 1),
    loading_stability(s, replicates = 20, halves = 2, seed = 1), form_scales(s),
    assess_reliability(form_scales(s), q, replicates = 20, seed = 1), score_respondents(s, q),
    score_into(s, repair_cafe, into = file.path(dir, "scores.csv")), score_formula(s),
    carry_back(c(F1 = 1, F2 = 2), s), reconstruct_responses(s), sift_rules(),
    sift_items(q, factors = 2, passes = 1, seed = 1),
    replay(sift_items(q, factors = 2, passes = 1, seed = 1), q),
    sift_paths(sift_items(q, factors = 2, seed = 1), replicates = 2, seed = 1),
    shorten_scales(form_scales(s), q, size = 2, replicates = 2, seed = 1),
    read_study(system.file("extdata", "repair_cafe_study.yml", package = "softsieve")),
    correlations_by(q, by = cafe), read_loadings(loadings_table(s)),
    compare_solutions(s, read_loadings(loadings_table(s))),
    components_for(q, repair_cafe$o1, most = 2, repeats = 1, seed = 1),
    score_groups(score_respondents(s, q), repair_cafe$cafe, replicates = 99, seed = 1),
    explain_score(score_respondents(s, q), q, 2))
}

loadings_table <- function(s) data.frame(item = rownames(coef(s)), round(coef(s), 2))

# 24 items on three factors, ten of whose eigenvalues are from 1e-4 down to 1e-7.
nearly_singular <- function() {
  withr::local_seed(3)
  x <- matrix(rnorm(120), 40)[, rep(1:3, 8)] * .75 + matrix(rnorm(40 * 24), 40) * .65
  e <- eigen(cor(x))
  e$values[15:24] <- 10^-seq(4, 7, length.out = 10)
  cov2cor(e$vectors %*% diag(e$values) %*% t(e$vectors))
}
