# Every cut-off that the package holds a number against, with the paper it comes from. Stages take
# them as arguments or defaults from here; prints and help pages cite them from here.

CUTOFFS <- list(
  adequacy_least = list(
    value = 0.50,
    label = "sampling adequacy below which an item (or all) should not be factored",
    source = "Kaiser & Rice (1974)"
  ),
  adequacy_mediocre = list(
    value = 0.60,
    label = "sampling adequacy called mediocre from here on (miserable below)",
    source = "Kaiser & Rice (1974)"
  ),
  adequacy_middling = list(
    value = 0.70,
    label = "sampling adequacy called middling from here on",
    source = "Kaiser & Rice (1974)"
  ),
  adequacy_meritorious = list(
    value = 0.80,
    label = "sampling adequacy called meritorious from here on",
    source = "Kaiser & Rice (1974)"
  ),
  adequacy_marvelous = list(
    value = 0.90,
    label = "sampling adequacy called marvelous from here on",
    source = "Kaiser & Rice (1974)"
  ),
  sphericity_p = list(
    value = 0.05,
    label = "p below which the items are taken to be related",
    source = "Bartlett (1951)"
  ),
  one_answer = list(
    value = 0.90,
    label = "share of people giving one answer at which an item hardly tells people apart",
    source = "convention of this package"
  ),
  end_share = list(
    value = 0.50,
    label = "share of people at one end of the scale that makes a floor or a ceiling",
    source = "convention of this package"
  ),
  sparse_people = list(
    value = 5,
    label = "people below which a category is sparse",
    source = "convention of this package"
  ),
  interval_skewness = list(
    value = 2,
    label = "size of skewness beyond which distances should not be taken as equal",
    source = "West, Finch & Curran (1995)"
  ),
  interval_kurtosis = list(
    value = 7,
    label = "excess kurtosis beyond which distances should not be taken as equal",
    source = "West, Finch & Curran (1995)"
  ),
  interval_categories = list(
    value = 5,
    label = "categories from which distances may be taken as equal",
    source = "Rhemtulla, Brosseau-Liard & Savalei (2012)"
  ),
  outer_fifth = list(
    value = 0.20,
    label = "part of the scale at either end in which a mean is far off",
    source = "convention of this package"
  ),
  distance_p = list(
    value = 0.001,
    label = "p of the Mahalanobis distance below which a person is far from the others",
    source = "Tabachnick & Fidell (2013)"
  ),
  even_odd = list(
    value = 0.30,
    label = "even-odd consistency below which answers look careless",
    source = "Jackson (1977), after Johnson (2005)"
  ),
  run_share = list(
    value = 0.50,
    label = "share of the items answered alike in one run at which answers look careless",
    source = "convention of this package"
  ),
  contradictions = list(
    value = 3,
    label = "contradicting pairs at which answers look careless",
    source = "convention of this package"
  ),
  rmsea_close = list(
    value = 0.05,
    label = "RMSEA up to which fit is close",
    source = "Browne & Cudeck (1992)"
  ),
  number_unsure = list(
    value = 0.60,
    label = "probability of a number of factors below which none stands out",
    source = "convention of this package"
  ),
  number_compare = list(
    value = 0.10,
    label = "probability from which a number of factors is worth a solution",
    source = "convention of this package"
  ),
  comparison_p = list(
    value = 0.30,
    label = "p up to which one factor more brings comparison data nearer",
    source = "Ruscio & Roche (2012)"
  ),
  correlation_worth = list(
    value = 0.30,
    label = "size of a correlation worth factoring",
    source = "Tabachnick & Fidell (2013)"
  ),
  collinear_r = list(
    value = 0.90,
    label = "size of a correlation at which two items nearly repeat each other",
    source = "Tabachnick & Fidell (2013)"
  ),
  sd_ratio = list(
    value = 2,
    label = paste(
      "ratio of the largest to the smallest standard deviation from which items seem to",
      "be in different units"
    ),
    source = "convention of this package"
  ),
  general_share = list(
    value = 0.50,
    label = "share of the common variance below which no general factor dominates",
    source = "convention of this package"
  ),
  factor_overlap = list(
    value = 0.80,
    label = "correlation of two factors from which they may be one",
    source = "Brown (2015)"
  ),
  salient_loading = list(
    value = 0.30,
    label = "size of a loading worth reading",
    source = "Floyd & Widaman (1995)"
  ),
  low_communality = list(
    value = 0.20,
    label = "communality below which an item shares little with the others",
    source = "Child (2006)"
  ),
  second_loading = list(
    value = 0.20,
    label = "size of a second loading that an item may have",
    source = "convention of this package"
  ),
  omega_loss = list(
    value = 0.10,
    label = "fall of a scale's omega that taking out an item must not exceed",
    source = "convention of this package"
  ),
  crossing_distance = list(
    value = 0.20,
    label = "distance of an item's second loading from its first below which it crosses",
    source = "Howard (2016)"
  ),
  factor_equal = list(
    value = 0.95,
    label = "congruence from which two factors are very similar",
    source = "Lorenzo-Seva & ten Berge (2006)"
  ),
  factor_similar = list(
    value = 0.85,
    label = "congruence from which two factors are similar",
    source = "Lorenzo-Seva & ten Berge (2006)"
  ),
  groups_p = list(
    value = 0.05,
    label = "p below which groups' factors differ by more than chance",
    source = "convention of this package"
  ),
  item_stays = list(
    value = 0.80,
    label = "share of draws below which an item does not stay with its factor",
    source = "convention of this package"
  ),
  improper_draws = list(
    value = 0.05,
    label = "share of draws with a uniqueness at its bound that is worth a look",
    source = "convention of this package"
  ),
  high_alpha_gain = list(
    value = 0.01,
    label = "rise of alpha without an item that is worth a look",
    source = "convention of this package"
  ),
  rmsea_poor = list(
    value = 0.10,
    label = "RMSEA above which fit is poor",
    source = "Browne & Cudeck (1992)"
  ),
  equal_loadings_p = list(
    value = 0.05,
    label = "p from which equal loadings are tenable",
    source = "convention of this package"
  ),
  alphas_differ_p = list(
    value = 0.05,
    label = "p below which alphas differ between groups",
    source = "Feldt (1969)"
  ),
  heterotrait = list(
    value = 0.85,
    label = "heterotrait-monotrait ratio above which two scales are hard to tell apart",
    source = "Henseler, Ringle & Sarstedt (2015)"
  ),
  omega_hierarchical = list(
    value = 0.50,
    label = "omega hierarchical below which a total should not be read as one thing",
    source = "Reise, Bonifay & Haviland (2013)"
  ),
  outer_parts = list(
    value = 0.27,
    label = "share of the people at either end whom an item should tell apart",
    source = "Kelley (1939)"
  ),
  answered_share = list(
    value = 0.50,
    label = "share of items a person must have answered to be scored",
    source = "convention of this package"
  ),
  determinacy = list(
    value = 0.80,
    label = "determinacy below which factor scores should not be used in research",
    source = "Gorsuch (1983)"
  ),
  determinacy_person = list(
    value = 0.90,
    label = "determinacy below which factor scores should not decide about single people",
    source = "Gorsuch (1983)"
  )
)

cutoff <- function(name) CUTOFFS[[match.arg(name, names(CUTOFFS))]]$value
cutoff_source <- function(name) CUTOFFS[[match.arg(name, names(CUTOFFS))]]$source
