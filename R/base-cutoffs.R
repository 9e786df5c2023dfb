# Every cut-off that the package holds a number against, with the paper it comes from. Stages take
# them as arguments or defaults from here; prints and help pages cite them from here.

CUTOFFS <- list(
  adequacy_least = list(value = 0.50, label = "sampling adequacy below which an item (or all) should not be factored",
                        source = "Kaiser & Rice (1974)"),
  adequacy_acceptable = list(value = 0.60, label = "sampling adequacy that is acceptable", source = "Kaiser & Rice (1974)"),
  adequacy_good = list(value = 0.70, label = "sampling adequacy that is good", source = "Kaiser & Rice (1974)"),
  sphericity_p = list(value = 0.05, label = "p below which the items are taken to be related", source = "Bartlett (1951)"),
  salient_loading = list(value = 0.30, label = "size of a loading worth reading", source = "Floyd & Widaman (1995)"),
  low_communality = list(value = 0.20, label = "communality below which an item shares little with the others",
                         source = "Child (2006)"),
  high_alpha_gain = list(value = 0.01, label = "rise of alpha without an item that is worth a look", source = "convention of this package"),
  answered_share = list(value = 0.50, label = "share of items a person must have answered to be scored",
                        source = "convention of this package"),
  determinacy = list(value = 0.80, label = "determinacy below which factor scores should not stand for persons",
                     source = "Grice (2001)")
)

cutoff <- function(name) CUTOFFS[[match.arg(name, names(CUTOFFS))]]$value
cutoff_source <- function(name) CUTOFFS[[match.arg(name, names(CUTOFFS))]]$source
