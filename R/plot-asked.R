# What figures can be asked: which factors, and the items' wording.

WORDING <- parameter("flag", "write each item's wording beside it?", default = FALSE)
WORDING_BESIDE <- parameter("flag", "write each item's wording beside it?", default = TRUE)
FACTORS <- parameter("any", "which factors, by name or number; the first two when left out")
SCORES_SHOWN <- parameter("any", "which factors or scales, by name or number")
GROUP_SHOWN <- parameter("text", "the group column of the people")

# Factors that were asked for, as column numbers.
settle_shown <- function(asked, names, least, most) {
  if (is.null(asked)) return(seq_len(min(length(names), most)))
  at <- if (is.numeric(asked)) match(asked, seq_along(names)) else match(asked, names)
  whole <- checkmate::test_integer(at, any.missing = FALSE, unique = TRUE)
  if (whole && length(at) >= least && length(at) <= most) return(at)
  stop_input("argument",
    sprintf("`factors` must name %s of the solution's factors.",
      if (least == most) least else paste(least, "to", most)),
    got = if (anyNA(at)) {
      sprintf("Not among them: %s.", name_culprits(asked[is.na(at)]))
    } else {
      describe_value(asked)
    },
    todo = sprintf("They are called: %s.", paste(names, collapse = ", ")))
}

# An item's name, and its wording where that was asked for.
item_labels <- function(items, wording, width = 60L) {
  text <- keyed_wording(items$wording, items$reversed)
  said <- wording & nzchar(text)
  ifelse(said, paste0(clip_text(text, width), "   ", items$item), items$item)
}

# Numbers on an axis of loadings: 0, .5, -.5.
LOADING_BREAKS <- c(-1, -0.5, 0, 0.5, 1)

loading_axis <- function(x) ifelse(is.na(x), "", ifelse(abs(x) < 1e-9, "0", format_unit(x, 1L)))

# A figure for which there is nothing to draw says what would have to be asked for.
check_drawable <- function(table, todo) {
  if (NROW(table)) return(table)
  stop_input("figure", "There must be something to draw.", got = "This result does not hold it.",
    todo = todo)
}
