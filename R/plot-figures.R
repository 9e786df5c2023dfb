# Which figures there are of what: by class, in the order in which they are offered. An entry has a
# label and
#
#   draw    function(object), giving a ggplot; function(object, asked) where it has
#   parameters  what it can be asked in `...` (base-families.R)
#   there   function(object): is there anything to draw? (always, when left out)
#   file    under which name write_results() saves it, or a function(object) of it (it does not,
#           when left out)
#   height  function(object): pixels it needs to be legible (800 when left out)

FIGURES <- list(
  item_correlations = family(
    correlations = spec(label = "the matrix, related items together",
      draw = function(object) draw_correlations(object))),
  grouped_correlations = family(
    groups = spec(label = "the correlations of each group",
      draw = function(object) draw_grouped(object))),
  factorability = family(
    adequacy = spec(label = "sampling adequacy of each item",
      draw = function(object) draw_adequacy(object),
      height = function(object) rows_height(nrow(object$values$items)))),
  factor_count = family(
    evidence = spec(label = "eigenvalues over chance, and what each rule suggests",
      draw = function(object) draw_evidence(object), file = "eigenvalues.png"),
    fit = spec(label = "fit of each number of factors", draw = function(object) fit_figure(object),
      file = "fit.png", there = function(object) !is.null(object$values$fits))),
  parallel_analysis = family(
    eigenvalues = spec(label = "eigenvalues over the reach of chance",
      draw = function(object) eigenvalue_figure(object$values, object$settings))),
  solution_ladder = family(
    ladder = spec(label = "factors of each number under each other, and how they correlate",
      parameters = list(wording = parameter("flag",
        "write the wording of each factor's strongest item?", default = FALSE)),
      draw = function(object, asked) draw_ladder(object, asked),
      height = function(object) max(800, 170 * (object$settings$to - object$settings$from + 1L)))),
  hidden_factors = family(
    hidden = spec(label = "in how many samples two factors show, by how closely they go together",
      there = function(object) nrow(object$values$tried) > 0L,
      draw = function(object) draw_hidden(object))),
  study_plan = family(
    sizes = spec(label = "what samples give, by the number of people",
      draw = function(object) draw_sizes(object)),
    rules = spec(label = "how often each rule finds the number of factors, by the number of people",
      there = function(object) any(rules_of_plan(object$values$measures)),
      draw = function(object) draw_plan_rules(object),
      height = function(object) {
        rows_height(6 * ceiling(length(object$settings$rules) / 4 + 0.25))
      })),
  factor_solution = family(
    loadings = spec(label = "which items load on which factor",
      parameters = list(wording = WORDING_BESIDE),
      draw = function(object, asked) draw_loadings(pattern_table(object), asked),
      height = function(object) rows_height(nrow(object$values$items))),
    bars = spec(label = "size and sign of the loadings on each factor, sorted",
      parameters = list(wording = WORDING),
      draw = function(object, asked) draw_bars(object, asked),
      height = function(object) {
        k <- ncol(object$values$loadings)
        rows_height(nrow(object$values$items) * ceiling(k / bar_columns(k)) * 0.85)
      }),
    plane = spec(label = "items in the plane of two factors, or in a grid of planes",
      there = function(object) ncol(object$values$loadings) > 1L,
      parameters = list(factors = parameter("any", "which factors, by name or number: two or more"),
        wording = WORDING),
      draw = function(object, asked) draw_plane(object, asked),
      height = function(object) if (ncol(object$values$loadings) > 4L) 1100 else 800),
    people = spec(label = "people and items in the plane of two factors",
      there = function(object) {
        v <- object$values
        ncol(v$loadings) > 1L && !is.null(v$item_correlations$values$questionnaire)
      },
      parameters = list(factors = FACTORS,
        group = parameter("text", "the group column that colours the people"),
        people = parameter("words", "ids of people to label"),
        data = parameter("any", "other people than the solution's, as for score_respondents()"),
        wording = WORDING),
      draw = function(object, asked) draw_plane_of_people(object, asked)),
    path = spec(label = "factors, their items, loadings and factor correlations as paths",
      parameters = list(
        hide_below = parameter("number", "loadings smaller than this in size have no path",
          lowest = 0, highest = 1, default = 0.3),
        wording = WORDING),
      draw = function(object, asked) draw_path(object, asked),
      height = function(object) rows_height(nrow(object$values$items))),
    variance = spec(label = "variance explained by each factor, before and after rotation",
      draw = function(object) draw_variance(object)),
    cumulative = spec(label = "the cumulative share of variance",
      draw = function(object) draw_cumulative(object)),
    residuals = spec(label = "the correlations that the factors leave",
      parameters = list(wording = WORDING),
      draw = function(object, asked) draw_residuals(object, asked),
      height = function(object) rows_height(nrow(object$values$items)))),
  pattern_table = family(
    pattern = spec(label = "which items load on which factor",
      parameters = list(wording = WORDING_BESIDE),
      draw = function(object, asked) draw_loadings(object, asked), file = "loadings.png",
      height = function(object) rows_height(nrow(object$values$table)))),
  item_profile = family(
    answers = spec(label = "shares of the answers to each item",
      draw = function(object) draw_answers(object),
      height = function(object) rows_height(nrow(object$values$items)),
      there = function(object) {
        of <- function(part) length(unique(object$values[[part]]$item))
        of("counts") >= of("bins")
      }),
    bins = spec(label = "items with more than 16 different answers, in bins",
      draw = function(object) {
        check_drawable(object$values$bins,
          "Only items with more than 16 different answers are put into bins: leave `what` out.")
        draw_bins(object)
      },
      there = function(object) NROW(object$values$bins) > 0L)),
  respondent_profile = family(
    people = spec(label = "distances and runs of each person",
      draw = function(object) draw_respondents(object))),
  questionnaire = family(
    missing = spec(label = "which answers are missing together",
      draw = function(object) draw_gaps(object)),
    pairs = spec(label = "each pair of up to 12 items", draw = function(object) draw_pairs(object),
      there = function(object) ncol(object$values$answers) <= MOST_PAIR_ITEMS)),
  predictive_number = family(
    curve = spec(label = "error in rows left out, by the number of predictors",
      draw = function(object) draw_outcome(object))),
  score_groups = family(
    means = spec(label = "means of each group on each score",
      draw = function(object) draw_score_groups(object),
      height = function(object) rows_height(length(unique(object$values$groups$group))))),
  rebuilt_answers = family(
    curve = spec(label = "the share that the first components keep, and the target",
      file = "rebuilding.png", draw = function(object) draw_curve(object)),
    grid = spec(label = "the table as it was, rebuilt from few components, and the difference",
      parameters = list(kept = parameter("any", "from how many: numbers, up to four")),
      draw = function(object, asked) draw_grid(object, asked$kept), height = function(object) 900),
    rebuilt = spec(label = "answers and rebuilt answers, item by item",
      parameters = list(
        items = parameter("words", "which items, up to 12; those kept least when left out"),
        wording = WORDING),
      draw = function(object, asked) draw_rebuilt(object, asked))),
  softsieve_reliability = family(
    coefficients = spec(label = "coefficients of each scale with their limits",
      draw = function(object) in_panels(draw_coefficients(object)), file = "reliability.png",
      there = function(object) any(object$values$scales$items > 1L)),
    items = spec(label = "alpha without each item",
      draw = function(object) in_panels(draw_items_left_out(object)), file = "scale_items.png",
      height = function(object) rows_height(sum(object$values$scales$items)),
      there = function(object) any(object$values$scales$items > 2L)),
    halves = spec(label = "all split halves",
      draw = function(object) in_panels(draw_halves(object)),
      there = function(object) NROW(object$values$halves) > 0L),
    scores = spec(label = "how scores are spread, and their margin",
      draw = function(object) in_panels(draw_scale_scores(object)),
      there = function(object) NROW(object$values$totals) > 0L),
    groups = spec(label = "alpha in each group",
      draw = function(object) in_panels(draw_group_alphas(object)),
      there = function(object) NROW(object$values$groups) > 0L)),
  respondent_scores = family(
    spread = spec(label = "how scores are spread, by group",
      file = function(object) paste0(file_of_scores(object, "scores"), ".png"),
      parameters = list(factors = SCORES_SHOWN, group = GROUP_SHOWN),
      draw = function(object, asked) draw_spread(object, asked)),
    scores = spec(label = "people in the plane of two scores",
      there = function(object) nrow(object$values$factors) > 1L,
      parameters = list(factors = SCORES_SHOWN, group = GROUP_SHOWN,
        people = parameter("words", "ids of people to label")),
      draw = function(object, asked) draw_score_plane(object, asked)),
    person = spec(label = "the profile of one person, or of up to four, over all scores",
      parameters = list(people = parameter("words",
        "ids of up to four people; the first left out")),
      draw = function(object, asked) draw_person(object, asked),
      height = function(object) max(800, 60 * nrow(object$values$factors) + 250))),
  item_sift = family(
    tiles = spec(label = "items by passes: in, at risk, out, and by which rule", file = "sift.png",
      parameters = list(wording = WORDING),
      draw = function(object, asked) draw_sift_tiles(object, asked),
      height = function(object) max(800, 26 * nrow(object$values$items) + 220)),
    passes = spec(label = "adequacy, variance explained, fit and reliability over the passes",
      draw = function(object) draw_sift_passes(object))),
  sift_paths = family(
    stays = spec(label = "the share of paths on which each item stays",
      parameters = list(wording = WORDING),
      draw = function(object, asked) draw_paths(object, asked),
      height = function(object) max(800, 24 * nrow(object$values$items) + 220))),
  short_forms = family(
    lengths = spec(label = "omega and fidelity of the best set of every length",
      draw = function(object) draw_lengths(object))),
  loading_stability = family(
    limits = spec(label = "every loading with its limits", parameters = list(wording = WORDING),
      draw = function(object, asked) draw_limits(object, asked),
      height = function(object) rows_height(nrow(object$values$items)))),
  information_curves = family(
    information = spec(
      label = "information about each level of the factors, and a score's error there",
      draw = function(object) draw_information(object))))
