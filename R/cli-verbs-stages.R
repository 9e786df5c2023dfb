# The verbs that run a study up to a stage and show its result.

# Runs a study up to a stage and shows its result.
verb_up_to <- function(stage) {
  force(stage)
  function(target, options) {
    done <- run_for(target, options, stage)
    put_results(done$values[stage], options, findings = done$findings)
    done
  }
}

# People read the print of the solution, with the pattern as the study shows it; sheets hold the
# pattern, JSON the whole solution, in its own form.
verb_solve <- function(target, options) {
  done <- run_for(target, options, c("solution", "pattern"))
  form <- settle_format(options)
  if (form != "json") {
    shown <- done$values[if (form == "table") "solution" else "pattern"]
    put_results(shown, options, findings = done$findings, pattern = done$values$pattern)
    return(done)
  }
  if (is.null(options$out)) {
    put_out(solution_text(done$values$solution))
  } else {
    write_solution(done$values$solution, options$out)
    if (!isTRUE(options$quiet)) say_aside("Written: ", options$out)
  }
  done
}

verb_sift <- function(target, options) {
  if (is.null(options$entries[["sift.run"]])) options$entries[["sift.run"]] <- "yes"
  done <- run_for(target, options, "sift")
  put_results(done$values["sift"], options, findings = done$findings)
  done
}

verb_compare <- function(target, options) {
  first <- run_for(target, options, "solution")
  shown <- if (is.null(options$with)) {
    k <- ncol(first$values$solution$values$loadings)
    s <- settings_in_force(first$settings)
    solution_ladder(first$values$correlations, to = k, method = s$factors$method,
      rotation = s$factors$rotation, seed = seed_of(s, "rotation"), threads = options$threads)
  } else {
    second <- run_for(options$with, options, "solution")
    names <- make.unique(basename(c(target, options$with)), " ")
    solutions <- list(first$values$solution, second$values$solution)
    call_with(compare_solutions, stats::setNames(solutions, names))
  }
  put_results(list(shown), options, findings = shown$findings)
  first
}

verb_plan <- function(target, options) {
  report <- options$report
  if (!is.null(report)) check_report_place(report, options$out)
  shown <- plan_that_goes_on(target, options)
  put_results(list(shown), options, findings = shown$findings)
  if (!is.null(report)) {
    write_report(shown, report)
    if (!isTRUE(options$quiet)) say_aside("The report: ", report)
  }
  NULL
}

# The place of a report is looked at before the work.
check_report_place <- function(report, out) {
  check_ending(report, names(PAPERS))
  check_writable(folder_of(report))
  check_place(report)
  whole <- function(path) file.path(normalizePath(folder_of(path)), basename(path))
  if (is.null(out) || whole(out) != whole(report)) return(invisible())
  stop_input("argument", "`--out` and `--report` must be two files.",
    got = sprintf("Both are \"%s\".", report))
}

# What an interrupted call sampled is kept beside the design, for the same call.
plan_that_goes_on <- function(target, options) {
  place <- kept_plan(target)
  seed <- options$seed
  if (is.null(seed) && is.null(read_design(target)$seed)) seed <- settle_seed(NULL)
  take_up_samples(place)
  on.exit(forget_samples(), add = TRUE)
  shown <- tryCatch(plan_of_file(target, seed, options$threads), interrupt = function(e) {
    kept <- keep_samples(place)
    if (kept) {
      say_aside(sprintf("%s kept: the same call%s goes on there.",
        count_of(kept, "sample is", "samples are"),
        if (is.null(seed)) "" else paste(" with --seed", format(seed, scientific = FALSE))))
    }
    rlang::cnd_signal(e)
  })
  unlink(place, expand = FALSE)
  shown
}

verb_score <- function(target, options) {
  if (!is.null(options$solution)) return(score_new(target, options))
  done <- run_for(target, options, c("scores", "questionnaire"))
  put_scores(done$values$scores, answers_left(done$values), options, done$findings)
  done
}

# Scores, or of one row the parts of them.
put_scores <- function(scores, answers, options, findings) {
  shown <- if (is.null(options$explain)) scores else explain_score(scores, answers, options$explain)
  put_results(list(shown), options, findings = findings)
}

# Entries that say nothing about scores by a saved solution are refused: its key says what items
# are.
OF_NEW_PEOPLE <- c("file", "database", "table", "delimiter", "decimal", "thousands", "encoding",
  "sheet", "header_rows", "missing_words", "id", "group", "missing_codes", "out_of_range",
  "filters")

check_score_options <- function(given, factors) {
  used <- c(paste0("answers.", OF_NEW_PEOPLE), if (factors) c("scores", "scales"), "scale_scores")
  strange <- given[!given %in% used & !sub("[.].*", "", given) %in% used]
  if (!length(strange)) return(invisible())
  stop_input("argument",
    "With --solution, options of a study must be about the new answers, or about scores.",
    got = sprintf("--%s came.", name_culprits(strange)),
    todo = sprintf("The file holds %s, and says what items are.",
      if (factors) "factors" else "scales"))
}

# New people by a saved solution.
score_new <- function(target, options) {
  check_out(options)
  solution <- read_solution(options$solution)
  factors <- is_result(solution, "factor_solution")
  check_score_options(names(options$entries), factors)
  s <- study_for(target, options)$settings
  people <- new_people(s, solution)
  scored <- function(with, stage) {
    asked <- stage_arguments(s, stage)
    asked <- asked[!vapply(asked, is.null, NA)]
    call_with(score_respondents, c(list(with, people), asked, threads = options$threads))
  }
  if (!factors) {
    scores <- scored(solution, "score_scales")
    put_results(list(scores), options, findings = scores$findings)
    return(scores)
  }
  scores <- scored(solution, "score")
  if (!is.null(options$explain)) {
    put_scores(scores, people, options, scores$findings)
    return(scores)
  }
  formed <- tryCatch(call_with(form_scales, c(list(solution), stage_arguments(s, "form"))),
    softsieve_error = function(e) NULL)
  beside <- if (!is.null(formed)) scored(formed, "score_scales")
  if (settle_format(options) == "table") {
    put_results(Filter(Negate(is.null), list(scores, beside)), options)
  } else {
    put_results(list(scores_in_one(scores, beside)), options, findings = scores$findings)
  }
  scores
}

new_people <- function(s, solution) {
  asking <- stage_arguments(s, "ask")[c("id", "group", "out_of_range", "missing_codes")]
  asking["missing_codes"] <- list(codes_of_study(asking$missing_codes))
  data <- read_study_answers(s)
  if (is.null(solution$values$key)) {
    # (of a matrix: the names of its items are all that is known)
    asking$items <- intersect(rownames(solution$values$loadings), names(data))
  } else {
    asking$codebook <- solution
  }
  people <- rlang::inject(questionnaire(data, !!!asking))
  filters <- unlist(s$answers$filters)
  if (length(filters)) keep_people(people, where = filters) else people
}

# Scores on scales beside those on factors, named by how they were made.
scores_in_one <- function(scores, beside) {
  table <- as_tibble(scores)
  if (is.null(beside)) return(table)
  own <- as_tibble(beside)
  # (people, and how many items they answered, stand first in both)
  own <- own[-seq_len(match("answered", names(own)))]
  names(own) <- paste0(names(own), "_", beside$settings$score)
  tibble::as_tibble(c(as.list(table), as.list(own)))
}
