# The sentences of methods and results. A language is a spec whose name starts with LANGUAGE_
# (base-registry.R): name (its code), label and order, and
#
#   headings   "methods" and "results"
#   decimal    the decimal mark, and `zero`: does a number below 1 begin with 0?
#   and        the word between the last two of a list
#   percent    what stands behind a share, and `thousands` between thousands
#   small_numbers  one to nine in words
#   methods    what methods are called in a sentence, by "kind.name"; their labels where not given
#   sentences  templates; what stands in braces is put in by report-prose.R, as text, and what
#              stands between two _ is in italics
#
# A translation is a file like this one with other words; a test holds that it has every sentence,
# and no other braces than these.

LANGUAGE_EN <- spec(
  name = "en",
  label = "English",
  order = 1,
  headings = c(methods = "Methods", results = "Results"),
  decimal = ".",
  zero = FALSE,
  percent = "%",
  thousands = ",",
  and = "and",
  last_comma = TRUE,
  small_numbers = c("one", "two", "three", "four", "five", "six", "seven", "eight", "nine"),
  methods = c(
    score.mean = "the means of the answered items",
    score.sum = "the sums of the items",
    chance.normal = "uncorrelated normal variables",
    chance.resampled = "the items' own answers in random order",
    chance.ordinal = "uncorrelated answers with the same shares of categories",
    rows.kaiser = "with items weighted to equal length",
    rows.cureton_mulaik = "with items weighted by how simple they look",
    extraction.components = "principal component analysis",
    rotation.crawford_ferguson = "the Crawford-Ferguson family",
    rule.parallel_mean = "parallel analysis, compared with the mean of chance",
    rule.running_share = "the cumulative share of variance",
    sifting.adequacy = "sampling adequacy",
    sifting.loading = "largest loading",
    sifting.crossing = "second loading of an item that loads on two factors",
    sifting.small_factor = "number of items on its factor",
    sifting.reliability = "gain of omega without the item",
    mark.weak = "no salient loading",
    mark.crossing = "loadings on two factors",
    mark.low = "low communality",
    mark.against = "loading against its factor",
    make.wording = "the wording of",
    make.pair = "two items alone,",
    make.neighbours = "items that stand next to each other,"
  ),
  sentences = c(
    answers = "The answers of {people} people to {items} items were analysed.",
    filtered = paste(
      "Of the {all} people in the file, {left} met the condition for inclusion ({conditions}); the",
      "others ({out}) were left out."
    ),
    unanswered = "None of the items was answered by {out}.",
    incomplete = paste(
      "Correlations rest on the {left} people who answered all items; the others ({out}) were left",
      "out of them."
    ),
    missing_pairwise = paste(
      "Of the answers, {share} were missing; each correlation was computed from all people who",
      "answered both items (Glasser, 1964; {low} to {high} people)."
    ),
    missing_em = paste(
      "Of the answers, {share} were missing; means and covariances were estimated by maximum",
      "likelihood from all answers there were {cite}."
    ),
    missing_complete = "Of all answers, {share} were missing.",
    complete = "No answers were missing.",
    weighted = "People were weighted by {column}.",
    clustered = "Errors and tests allow for the sampling of people in clusters ({column}).",
    tests_n = "Tests used an effective sample size of _N_ = {size}.",
    reversed = "Items worded in reverse ({items}) were reverse-scored beforehand.",
    decided_drop = "By decision, {items} {were} left out ({why}).",
    decided_other = "Further decisions were: {decisions}.",
    correlations = "All analyses were based on {kind} {cite}.",
    factorability = paste(
      "Factorability was judged by the measure of sampling adequacy (Kaiser & Rice, 1974) and a",
      "test of sphericity {cite}."
    ),
    number_parallel = paste(
      "The number of {factors} was determined by parallel analysis (Horn, 1965), in which",
      "eigenvalues of {basis} were compared with {reference} of {replicates} data sets of {chance}",
      "{cite}."
    ),
    number_sequential = "Chance data were drawn anew for each further factor.",
    number_rule = "The number of {factors} was determined by {rule} {cite}.",
    number_probable = paste(
      "The number of {factors} was the most probable one according to neural networks trained on",
      "simulated data whose number of factors is known (Goretzko & Buhner, 2020); parallel",
      "analysis (Horn, 1965; {replicates} data sets of {chance}) was run for comparison. Factors",
      "made of the wording of items, of neighbouring items or of two items alone were not counted."
    ),
    number_sequential_rule = paste(
      "The number of {factors} was determined by sequential parallel analysis (Green et al.,",
      "2012); plain parallel analysis (Horn, 1965; {replicates} data sets of {chance}) was run for",
      "comparison."
    ),
    number_given = paste(
      "The number of {factors} was set to {number}{why}; parallel analysis (Horn, 1965;",
      "{replicates} data sets of {chance}) was run for comparison."
    ),
    sift = paste(
      "Weak items were removed one at a time, and everything was computed anew on the items left.",
      "In each pass the item went that was worst by the first of these rules to be broken:",
      "{rules}."
    ),
    sift_errors = paste(
      "A rule counted as broken when a value lay beyond its limit by 1.645 standard errors."
    ),
    sift_holds = paste(
      "No item went where omega would have fallen by more than {loss} or fewer than {least} items",
      "would have been left on a factor."
    ),
    sift_kept = "The rules did not apply to {items}, kept for content.",
    extraction_one = "One {factor} was extracted by {method} {cite}.",
    extraction = "{Factors} were extracted by {method} {cite}",
    rotation = " and rotated {way} by {rotation} {cite}{parameters}{rows}.",
    unrotated = " and were not rotated.",
    salient = paste(
      "Items with a loading of at least {salient} in absolute value on one of the {factors} formed",
      "its scale{crossing} ({marks})."
    ),
    salient_one = paste(
      "Items with a loading of at least {salient} in absolute value formed a scale ({marks})."
    ),
    salient_crossing = "; items with two such loadings were left out",
    codebook_scales = "Scales were formed as the questionnaire names them.",
    reliability = paste(
      "Reliability was estimated by alpha (Cronbach, 1951) and omega (McDonald, 1999){intervals}."
    ),
    intervals = ", with {level} confidence intervals from {draws} bootstrap samples",
    scores = "Scores on the {factors} were {method} {cite}; scale scores were {scales}.",
    software = paste(
      "Analyses were run in R (version {r}) with the package softsieve (version {version}); a",
      "supplement lists all settings and seeds."
    ),
    adequacy_alone = "Sampling adequacy was {adequacy} (single items: {least} to {most}).",
    adequacy = paste(
      "Sampling adequacy was {adequacy} (single items: {least} to {most}), and the test of",
      "sphericity gave \u03c7\u00b2({df}, _N_ = {size}) = {chi}, {p}."
    ),
    suggested = "Parallel analysis suggested {number}.",
    probable = "The most probable number was {number} (probability = {probability}).",
    discounted = "One of these, made of {make} {items}, was not counted.",
    of_all_items = "These figures are of all {all} items, before sifting.",
    sifted = paste(
      "Sifting removed {out} of {all} items ({items}); sampling adequacy was {before} before and",
      "{after} after it."
    ),
    sifted_rule = "{items} by {rule}",
    sifted_none = "Sifting removed no item.",
    one_of = "{number} factor",
    several_of = "{number} factors",
    one_component = "{number} component",
    several_components = "{number} components",
    variance = "The {extracted} extracted explained {share} of the variance.",
    variance_one = "The {factor} extracted explained {share} of the variance.",
    strongest = "{factor} ({share} of the variance) was marked most strongly by {items}.",
    loadings = paste(
      "Largest loadings ranged from {low} to {high} in absolute value, communalities from {least}",
      "to {most}."
    ),
    marked = "Notable items were {items}.",
    between = "Correlations between {factors} ranged from _r_ = {low} to _r_ = {high}.",
    between_one = "The two {factors} correlated _r_ = {r}.",
    fit = paste(
      "The model of {number} had \u03c7\u00b2({df}, _N_ = {size}) = {chi}, {p}, RMSEA =",
      "{rmsea}{limits}, CFI = {cfi}."
    ),
    rmsea_limits = ", 90% CI [{lower}, {upper}]",
    residuals = "The root mean square of the residual correlations was {rmsr}.",
    scale_alpha = "{scale} ({items} items): \u03b1 = {alpha}.",
    scale_none = "{scale} ({items} item): reliability cannot be estimated from one wave.",
    scale = "{scale} ({items} items): \u03b1 = {alpha}, \u03c9 = {omega}{limits}.",
    limits = ", {level} CI [{lower}, {upper}]"
  ),
  words = c(
    person = "{number} person",
    people = "{number} people",
    one = "one",
    was = "was",
    were = "were",
    factors = "factors",
    components = "components",
    factor = "factor",
    component = "component",
    percentile = "the {level}th percentile of those",
    mean = "the mean of those",
    below = "below",
    above = "above",
    oblique = "obliquely",
    orthogonal = "orthogonally",
    p_small = "_p_ < .001",
    p = "_p_ = {p}",
    quoted = "\u201c{text}\u201d"
  )
)
