# The sentences of methods and results. A language is a spec whose name starts with LANGUAGE_
# (base-registry.R): name (its code), label and order, and
#
#   headings   "methods" and "results"
#   decimal    the decimal mark, and `zero`: does a number below 1 begin with 0?
#   and        the word between the last two of a list
#   small_numbers  one to nine in words, where counts of factors are so written
#   methods    what methods are called in a sentence, by "kind.name"; their labels where not given
#   sentences  templates; what stands in braces is put in by report-prose.R, as text
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
  and = "and",
  small_numbers = c("one", "two", "three", "four", "five", "six", "seven", "eight", "nine"),
  methods = c(
    score.mean = "the means of the answered items",
    score.sum = "the sums of the items",
    missing.pairwise = "all people who answered both items of a pair",
    rows.kaiser = "rows weighted to equal length",
    rows.cureton_mulaik = "rows weighted by how simple they look",
    rotation.none = "not rotated",
    sifting.crossing = "distance of the second loading from the first"
  ),
  sentences = c(
    answers = "The answers of {people} people to {items} items were analysed.",
    filtered = "Only people for whom this holds were kept: {conditions}.",
    missing = paste(
      "Of the answers, {share} were missing; correlations were computed from {missing} {cite}."
    ),
    complete = "No answers were missing.",
    weighted = "People were weighted by {column}.",
    reversed = "Worded in reverse, and turned round beforehand: {items}.",
    decided_drop = "Left out by decision ({why}): {items}.",
    decided_other = "Decided by people: {decisions}.",
    correlations = "The items were related by {kind} {cite}.",
    factorability = paste(
      "Whether the items can be factored was judged by the measure of sampling adequacy (Kaiser &",
      "Rice, 1974) and by the test of sphericity {cite}."
    ),
    number_parallel = paste(
      "The number of {factors} was chosen by parallel analysis (Horn, 1965): eigenvalues of",
      "{basis} were held against {reference} {level} of {replicates} sets of {chance} {cite}."
    ),
    number_sequential = "Chance data were drawn anew with the {factors} found so far.",
    number_rule = "The number of {factors} was chosen by this rule: {rule} {cite}.",
    number_probable = paste(
      "The number of {factors} was the most probable one by networks trained on simulated data",
      "with a known number (Goretzko & Buhner, 2020), as parallel analysis (Horn, 1965;",
      "{replicates} sets of {chance}), which stood beside it, asks too much of the later of",
      "correlated factors."
    ),
    number_sequential_rule = paste(
      "The number of {factors} was that of sequential parallel analysis (Green et al., 2012),",
      "beside plain parallel analysis (Horn, 1965; {replicates} sets of {chance})."
    ),
    number_discounted = paste(
      "Further factors made of the wording of items, of neighbours in the questionnaire or of two",
      "items ({items}) were not counted."
    ),
    number_given = paste(
      "The number of {factors} was set to {number}{why}; parallel analysis (Horn, 1965) with",
      "{replicates} sets of {chance} stood beside it."
    ),
    sift = paste(
      "Items were sifted out one at a time, with everything computed anew on those left, by the",
      "first of these rules that was broken: {rules}."
    ),
    extraction = "Extraction: {method} {cite}{options}.",
    rotation = "Rotation: {rotation} {cite}{parameters}, the best of {starts} random starts{rows}.",
    unrotated = "The {factors} were not rotated.",
    salient = paste(
      "Items with a loading of {salient} or more in size on one of the {factors} make up its scale",
      "({marks})."
    ),
    codebook_scales = "Scales were formed as the codebook names them.",
    reliability = paste(
      "Reliability was estimated by alpha (Cronbach, 1951) and omega (McDonald, 1999){intervals}."
    ),
    intervals = ", with {level} intervals from {draws} draws of the people",
    scores = "People were scored by {method} {cite} on the {factors}, and on scales by {scales}.",
    further = "Further settings, as the study file calls them: {settings}.",
    software = "All of it was computed with softsieve {version} under R {r}; the seed was {seed}.",
    adequacy_alone = "Sampling adequacy was {adequacy} (items from {least} to {most}).",
    adequacy = paste(
      "Sampling adequacy was {adequacy} (items from {least} to {most}); the test of sphericity",
      "gave chi-square = {chi} (df = {df}), {p}."
    ),
    suggested = "Parallel analysis suggested {number}.",
    probable = "The most probable number was {number} (probability {probability}).",
    sifted = paste(
      "Sifting took out {items}, {out} of {all} items; sampling adequacy was {before} with and",
      "{after} without what went."
    ),
    sifted_none = "Sifting took out no item.",
    one_of = "{number} factor",
    several_of = "{number} factors",
    one_component = "{number} component",
    several_components = "{number} components",
    variance = "{extracted} explained {share} of the variance ({each}).",
    loadings = paste(
      "The items' largest loadings were between {low} and {high} in size, their communalities",
      "between {least} and {most}."
    ),
    mark = "Marked as {mark}: {items}.",
    between = "Correlations of the {factors} ran from {low} to {high}.",
    between_one = "The {factors} correlated {r}.",
    residuals = "The root mean square of the residual correlations was {rmsr}.",
    scale_alpha = "{scale} ({items} items): alpha = {alpha}; no model can be checked.",
    scale_none = "{scale} ({items} item): no reliability can be estimated from one wave.",
    scale = "{scale} ({items} items): alpha = {alpha}, omega = {omega}{limits}.",
    limits = " [{lower}, {upper}]"
  ),
  words = c(
    factors = "factors",
    components = "components",
    percentile = "percentile",
    mean = "the mean",
    p_small = "p < .001",
    p = "p = {p}"
  )
)
