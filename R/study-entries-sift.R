# What a study file may say of sifting. study-entries.R has the fields of an entry; the limits of
# rules are entries too (sifting_entries()).

ENTRY_SIFT_RUN <- spec(
  name = "sift.run",
  label = "Sift items before the solution is settled",
  order = 45.6,
  type = "boolean",
  default = FALSE
)

ENTRY_SIFT_KEEP <- spec(
  name = "sift.keep",
  label = "Items that never go",
  order = 45.61,
  type = "string",
  several = TRUE,
  stage = "sift",
  argument = "keep"
)

ENTRY_SIFT_DROP_FIRST <- spec(
  name = "sift.drop_first",
  label = "Items that go before the first pass, each with the reason",
  order = 45.62,
  type = "string",
  mapped = TRUE,
  stage = "sift",
  argument = "drop_first"
)

ENTRY_SIFT_ORDER <- spec(
  name = "sift.order",
  label = "Rules that are looked at first, in this order",
  order = 45.63,
  type = "string",
  several = TRUE,
  choices = function() names_of("sifting"),
  stage = "rules",
  argument = "order"
)

ENTRY_SIFT_WITHOUT <- spec(
  name = "sift.without",
  label = "Rules that are not used",
  order = 45.635,
  type = "string",
  several = TRUE,
  choices = function() names_of("sifting")
)

ENTRY_SIFT_MOST_OMEGA_LOSS <- spec(
  name = "sift.most_omega_loss",
  label = "An item stays when a scale's omega would fall by more than this without it",
  order = 45.655,
  type = "number",
  lowest = 0,
  highest = 1,
  default = cutoff("omega_loss"),
  stage = "rules",
  argument = "most_omega_loss"
)

ENTRY_SIFT_BY_LIMITS <- spec(
  name = "sift.by_limits",
  label = "An item breaks a rule only when its limits, too, lie beyond the rule's",
  order = 45.656,
  type = "boolean",
  default = TRUE,
  stage = "rules",
  argument = "by_limits"
)

ENTRY_SIFT_LEAST_ITEMS <- spec(
  name = "sift.least_items",
  label = "So many items must stay",
  order = 45.64,
  type = "integer",
  lowest = 3,
  default = 3L,
  stage = "rules",
  argument = "least_items"
)

ENTRY_SIFT_LEAST_PER_FACTOR <- spec(
  name = "sift.least_per_factor",
  label = "So many items must stay on each factor",
  order = 45.65,
  type = "integer",
  lowest = 0,
  default = 3L,
  stage = "rules",
  argument = "least_per_factor"
)

ENTRY_SIFT_LEAST_PER_FACET <- spec(
  name = "sift.least_per_facet",
  label = "So many items of each facet must stay",
  order = 45.66,
  type = "integer",
  lowest = 1,
  stage = "rules",
  argument = "least_per_facet"
)

# The limit of each rule.
sifting_entries <- function() {
  lapply(unname(specs("sifting")), function(one) {
    spec(
      name = paste0("sift.", one$name),
      label = sprintf("Limit of the rule \"%s\" (%s)", one$name, one$label),
      order = 45.7 + one$order / 100,
      type = "number",
      lowest = one$lowest,
      highest = one$highest,
      stage = "rules",
      argument = one$name
    )
  })
}
