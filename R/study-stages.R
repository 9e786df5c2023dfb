# The stages of a study, in order. An entry is called as its result among a study's
# values is; it has a label (what is said while it runs; nothing where it stands with the one
# before) and
#
#   verb    the verb whose result it is (`takes`: its arguments); `class` of that result
#   seed    the name among `own_seeds` of the seed that it draws with, and that among its settings
#   needs   names of the results that it works on
#   asks    the stages of entries (study-entries.R) whose settings it takes
#   also    function(s): further settings that its result depends on
#   when    function(s, v): is it asked for, and can it be had of earlier results? (always, when
#           left out; what is wanted by itself is never left out)
#   stored  may its result be stored beside the results, to be taken up again? (study-resume.R)
#   renames are the names of scales all that it takes from the factors' names? Then other names are
#           put in the place of those stored, and nothing is computed again
#   run     function(s, v, threads): its result from the settings in force and earlier results
#   says    stages of entries that study_of() reads from its settings (those that it asks, when
#           left out); `free`: arguments that change no result, or that others say

stage <- function(label, verb, class, ...) {
  spec(label, takes = formals(verb), verb_name = deparse(substitute(verb)), class = class, ...)
}

# A study of a correlation matrix has no people.
has_people <- function(s, v) is.null(s$answers$matrix)

# Correlations of the answers, or the matrix as it is.
correlate_for <- function(s, v, threads) {
  if (has_people(s)) {
    return(run_asked(s, correlate_items, list(v$questionnaire), "correlate", threads = threads))
  }
  call_with(correlate_items, list(read_matrix(study_path(s, s$answers$matrix)), n = s$answers$n,
    repair = s$correlations$repair))
}

# A verb with what came before and what the study asks of it.
run_asked <- function(s, verb, first, stage, ...) {
  call_with(verb, c(first, stage_arguments(s, stage), list(...)))
}

STAGES <- family(
  questionnaire = stage("Reading answers and codebook", questionnaire, "questionnaire",
    says = character(), needs = character(), asks = c("read", "ask"), stored = FALSE,
    when = has_people, run = function(s, v, threads) questionnaire_of_study(s)),
  items = stage("Looking at items and people", profile_items, "item_profile", when = has_people,
    needs = "questionnaire", run = function(s, v, threads) profile_items(v$questionnaire)),
  people = stage("", profile_respondents, "respondent_profile", needs = "questionnaire",
    when = has_people, run = function(s, v, threads) profile_respondents(v$questionnaire)),
  correlations = stage("Correlating items", correlate_items, "item_correlations",
    needs = "questionnaire", asks = "correlate",
    also = function(s) if (!has_people(s)) unname(tools::md5sum(study_path(s, s$answers$matrix))),
    run = correlate_for),
  factorability = stage("", assess_factorability, "factorability", needs = "correlations",
    # components need no inverse, adequacy does
    when = function(s, v) s$factors$method != "components" || is_invertible(v$correlations),
    run = function(s, v, threads) assess_factorability(v$correlations)),
  count = stage("Weighing the number of factors", count_factors, "factor_count",
    needs = "correlations", asks = "count", seed = c(count = "seed"),
    also = function(s) list(rules_of_study(s)),
    run = function(s, v, threads) {
      asked <- stage_arguments(s, "count")
      asked["rules"] <- list(rules_of_study(s))
      how <- list(seed = seed_of(s, "count"), threads = threads)
      call_with(count_factors, c(list(v$correlations), asked, how))
    }),
  sift = stage("Sifting items", sift_items, "item_sift", needs = c("correlations", "count"),
    seed = c(sift = "seed"), says = "sift", free = "method",
    asks = c("number", "rules", "sift", "extract", "rotate"),
    also = function(s) list(s$sift, replace_names(s, NULL)$factors, s$by_hand),
    when = function(s, v) s$sift$run,
    stored = FALSE, # it holds answers to the items left, and rules, which are functions
    run = function(s, v, threads) {
      sift_as_asked(v$correlations, number_of_study(s$factors$number, v$count), s, threads)
    }),
  solution = stage("Extracting and rotating factors", rotate_factors, "factor_solution",
    seed = c(rotation = "rotation_seed"),
    needs = c("correlations", "count", "sift"), asks = c("number", "extract", "rotate", "name"),
    also = function(s) list(s$factors),
    run = function(s, v, threads) {
      solution <- if (is.null(v$sift)) {
        factor_as_asked(v$correlations, number_of_study(s$factors$number, v$count), s, threads)
      } else {
        v$sift$values$solution
      }
      if (is.null(s$factors$names)) solution else name_factors(solution, s$factors$names)
    }),
  pattern = stage("", pattern_table, "pattern_table", needs = "solution", asks = "pattern",
    run = function(s, v, threads) run_asked(s, pattern_table, list(v$solution), "pattern")),
  scales = stage("Checking scales", form_scales, "softsieve_scale_set",
    needs = c("questionnaire", "solution"),
    asks = c("by", "form"),
    run = function(s, v, threads) {
      # (rules may have taken out what was moved)
      left <- rownames(v$solution$values$loadings)
      s$scales$moved <- s$scales$moved[names(s$scales$moved) %in% left]
      if (s$scales$defined_by == "solution") {
        return(run_asked(s, form_scales, list(v$solution), "form"))
      }
      call_with(form_scales, list(answers_left(v), moved = s$scales$moved))
    }),
  reliability = stage("", assess_reliability, "softsieve_reliability",
    seed = c(reliability = "seed"), needs = c("questionnaire", "scales", "solution"),
    asks = "trust",
    renames = TRUE, also = function(s) list(s$correlations$missing),
    run = function(s, v, threads) {
      how <- list(seed = seed_of(s, "reliability"), threads = threads)
      if (has_people(s)) how$missing <- s$correlations$missing
      call_with(assess_reliability,
        c(list(v$scales, answers_left(v)), stage_arguments(s, "trust"), how))
    }),
  scores = stage("Scoring people", score_respondents, "respondent_scores",
    free = c("method", "units"), needs = c("questionnaire", "solution"), asks = "score",
    when = has_people,
    run = function(s, v, threads) {
      run_asked(s, score_respondents, list(v$solution, answers_left(v)), "score", threads = threads)
    }),
  scale_scores = stage("", score_respondents, "respondent_scores",
    free = c("method", "units"), needs = c("questionnaire", "scales", "reliability", "solution"),
    asks = "score_scales", when = has_people,
    run = function(s, v, threads) {
      run_asked(s, score_respondents, list(v$scales, answers_left(v)), "score_scales",
        reliability = v$reliability)
    }),
  # (last: where the probabilities do not know such correlations, all else is there)
  hidden = stage("Looking for what could hide", hidden_factors, "hidden_factors",
    seed = c(hidden = "seed"), needs = "solution", asks = "hidden",
    when = function(s, v) s$hidden$run,
    run = function(s, v, threads) {
      run_asked(s, hidden_factors, list(v$solution), "hidden", seed = seed_of(s, "hidden"),
        threads = threads)
    }))

# The answers to the items that the solution is of: after sifting, not all.
answers_left <- function(v) {
  if (is.null(v$questionnaire)) return(v$correlations)
  left <- rownames(v$solution$values$loadings)
  if (setequal(left, colnames(v$questionnaire$values$answers))) return(v$questionnaire)
  keep_quietly(v$questionnaire, left)
}

# The stages that must run for these results, in order. The number of factors is only weighed where
# that is wanted, or settles the number.
stages_for <- function(wanted, s) {
  given <- is.numeric(s$factors$number) && !"count" %in% wanted
  repeat {
    needed <- unique(c(wanted, unlist(lapply(STAGES[wanted], `[[`, "needs"))))
    if (given) needed <- setdiff(needed, "count")
    if (setequal(needed, wanted)) break
    wanted <- needed
  }
  STAGES[names(STAGES) %in% wanted]
}

# The number that a rule finds is found again in every pass; one that is given stays. What people
# put back is put back after the rules had their say, and they are asked again about the others.
sift_as_asked <- function(correlations, number, s, threads) {
  components <- EXTRACTIONS[[s$factors$method]]$model == "components"
  factors <- number_of_passes(s$factors$number, number, components)
  drop_first <- c(unlist(s$sift$drop_first), s$by_hand$drop)
  own <- names(ROTATIONS[[s$factors$rotation]]$parameters)
  turning <- s$factors[intersect(c("oblique", "normalization", own), names(s$factors))]
  asked <- list(correlations, rules = sift_rules_asked(s), factors = factors,
    drop_first = if (length(drop_first)) drop_first[!duplicated(names(drop_first))],
    method = if (components) "components" else s$factors$method, rotation = s$factors$rotation,
    seed = seed_of(s, "sift"), threads = threads)
  how <- c(stage_arguments(s, "sift"), turning)
  how <- how[setdiff(names(how)[!vapply(how, is.null, NA)], "drop_first")]
  sifted <- call_with(sift_items, c(asked, how))
  out <- setdiff(s$by_hand$restore, sifted$values$left)
  if (!length(out)) return(sifted)
  for (item in out) {
    sifted <- call_with(sift_restore, list(sifted, item, s$by_hand$restore_why[[item]]))
  }
  sift_items(sifted, threads = threads)
}

sift_rules_asked <- function(s) {
  rules <- stage_arguments(s, "rules")
  rules[unlist(s$sift$without)] <- FALSE
  call_with(sift_rules, rules[!vapply(rules, is.null, NA)])
}

# A rule that sifting knows is asked in every pass; any other number is the same in all.
number_of_passes <- function(asked, number, components) {
  if (is.character(asked) && asked %in% c("parallel", "probable")) {
    return(if (components) "parallel" else asked)
  }
  if (is.numeric(number)) number else number$k
}

# As the study asks of extraction and rotation, each with what its method takes.
factor_as_asked <- function(correlations, number, s, threads) {
  components <- EXTRACTIONS[[s$factors$method]]$model == "components"
  extract <- if (components) extract_components else extract_factors
  asked <- c(stage_arguments(s, "extract"),
    list(seed = if (!components) seed_of(s, "rotation"), threads = if (!components) threads))
  asked <- asked[intersect(names(asked), names(formals(extract)))]
  extracted <- call_with(extract, c(list(correlations, number), asked))
  own <- names(ROTATIONS[[s$factors$rotation]]$parameters)
  call_with(rotate_factors,
    c(list(extracted), stage_arguments(s, "rotate"), s$factors[intersect(own, names(s$factors))],
      list(seed = seed_of(s, "rotation"), threads = threads)))
}

# The rules that the study names; one is also asked, slow as it may be, where the number is its own.
rules_of_study <- function(s) {
  named <- unlist(s$factors$rules)
  own <- intersect(s$factors$number, names(RULES))
  if ("all" %in% named) return("all")
  if (length(named)) return(union(named, own))
  if (length(own) && isTRUE(RULES[[own]][["slow"]])) c(names(choose_rules(NULL)), own)
}

# The number that the study gives, or that the rule it names has found.
number_of_study <- function(asked, count) {
  if (is.numeric(asked)) return(asked)
  if (asked == "parallel") return(number_settled(count$values$suggested, "parallel analysis"))
  if (asked == "probable") {
    return(number_settled(count$values$taken, said_taken_by(count$values)))
  }
  row <- count$values$rules[count$values$rules$rule == asked, ]
  if (!is.na(row$suggested)) return(row$suggested)
  stop_input("factors", "The rule that the study names must find a number of factors.",
    got = sprintf("%s: %s.", capitalise(row$label), row$reason),
    todo = "Give factors: number: parallel, or a number.")
}
