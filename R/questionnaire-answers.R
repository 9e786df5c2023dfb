# From the item columns to keyed numbers: text and labels, missing codes, ranges, keys.

# The item columns as a matrix, of integers where all answers are whole (a million people by a
# hundred items then take 400 MB, not 800). Text is mapped by the codebook's labels, ordered factors
# by their levels; other text where a number belongs is an error that shows it.
read_answers <- function(data, described, words) {
  labels <- stats::setNames(described$labels, described$item)
  as_gaps <- 0L
  if (length(words)) {
    as_gaps <- vapply(data, function(x) sum(trimws(as.character(x)) %in% words), 0L)
    data[] <- lapply(data, words_to_gaps, words = words)
  }
  read <- Map(function(x, name) read_item(x, labels[[name]]), data, names(data))
  bad <- names(data)[lengths(lapply(read, `[[`, "odd")) > 0]
  if (length(bad)) stop_text_in_item(lapply(read[bad], `[[`, "odd"), bad, labels[bad])
  numbers <- lapply(read, `[[`, "numbers")
  check_sizes(numbers)
  by_level <- names(data)[vapply(read, `[[`, NA, "by_level")]
  list(answers = numbers, findings = bind_findings(if (length(by_level)) {
    new_finding("levels_numbered", name_culprits(by_level), value = length(by_level))
  }, if (sum(as_gaps)) {
    new_finding("words_as_missing", count_of(sum(as_gaps), "answer was", "answers were"),
      name_culprits(sprintf("\"%s\"", words)), value = sum(as_gaps))
  }))
}

# Cells that hold one of the words, as gaps.
words_to_gaps <- function(x, words) {
  if (!is.character(x) && !is.factor(x)) return(x)
  x[trimws(as.character(x)) %in% words] <- NA
  x
}

# One column: its numbers, the texts that are none, and whether a factor's levels were counted.
read_item <- function(x, labels) {
  by_level <- is.ordered(x) && is.null(labels) && anyNA(suppressWarnings(as.numeric(levels(x))))
  if (by_level) return(list(numbers = as.integer(x), odd = character(), by_level = TRUE))
  if (is.integer(x) && !is.factor(x)) return(list(numbers = x, odd = character(), by_level = FALSE))
  if (is.numeric(x) || is.logical(x)) {
    if (is.double(x) && anyNA(x)) x[is.na(x)] <- NA # (what is no number is missing, too)
    return(list(numbers = as_whole(as.numeric(x)), odd = character(), by_level = FALSE))
  }
  text <- trimws(as.character(x))
  text[!is.na(text) & !nzchar(text)] <- NA
  numbers <- suppressWarnings(as.numeric(text))
  if (!is.null(labels)) {
    by_label <- unname(labels)[match(lower(text), lower(names(labels)))]
    numbers[!is.na(by_label)] <- by_label[!is.na(by_label)]
  }
  list(numbers = as_whole(numbers), odd = unique(text[is.na(numbers) & !is.na(text)]),
    by_level = FALSE)
}

# Integers where all are whole and none is too large; what is there stays what it is otherwise.
as_whole <- function(x) {
  there <- x[!is.na(x)]
  if (all(is.finite(there)) && all(abs(there) < 2^31) && all(there == round(there))) {
    as.integer(x)
  } else {
    x
  }
}

# "12 mm", "5%"
UNIT_IN_CELL <- "^[-+]?[0-9]+([.,][0-9]+)? ?[^0-9 .,;:+-][^0-9]{0,11}$"

stop_text_in_item <- function(texts, items, labels) {
  shown <- vapply(texts, function(text) paste0('"', utils::head(text, 3L), '"', collapse = ", "),
    "")
  comma <- vapply(texts, function(text) all(grepl("^[-+]?[0-9]+,[0-9]+$", text)), NA)
  unit <- vapply(texts, function(text) all(grepl(UNIT_IN_CELL, text)), NA)
  labelled <- labels[!vapply(labels, is.null, NA)]
  words <- any(vapply(texts[!comma], function(text) any(grepl("[[:alpha:]]", text)), NA))
  todo <- c(
    if (length(labelled)) {
      sprintf("The labels of %s are: %s.", names(labelled)[1L],
        name_culprits(sprintf("\"%s\"", names(labelled[[1L]]))))
    },
    if (words) {
      paste("Answers in words need the codebook's `labels`, for example 1 = never | 2 =",
        "often; words for no answer go into missing_codes.")
    },
    if (any(comma)) {
      sprintf(
        paste("A decimal comma is the likely cause in %s: read the file with the decimal mark",
          "\",\" (decimal)."),
        name_culprits(items[comma]))
    },
    if (any(unit)) {
      sprintf("%s: units belong in the column's name or label, not in its cells.",
        name_culprits(items[unit]))
    },
    if (!all(comma)) {
      paste("Correct the cells. A column of words that is no item is a `group`, one of the",
        "`categories`, or left out of `items`.")
    })
  stop_input("text_in_item", "Every item's answers must be numbers.",
    got = sprintf("%s text: %s.",
      if (length(items) == 1L) "1 item holds" else paste(length(items), "items hold"),
      name_culprits(sprintf("%s (%s)", items, shown))),
    todo = todo, items = items)
}

# Codes for "no answer" become NA and are counted, item by item and code by code.
drop_missing_codes <- function(answers, described) {
  codes <- described$missing_codes
  counted <- list()
  for (i in seq_along(codes)) {
    for (code in unique(codes[[i]])) {
      hit <- which(answers[[i]] == code)
      answers[[i]][hit] <- NA
      if (length(hit)) {
        counted[[length(counted) + 1L]] <- list(names(answers)[i], code, length(hit))
      }
    }
  }
  codes <- tibble_of(item = vapply(counted, `[[`, "", 1L),
    code = vapply(counted, function(one) as.numeric(one[[2L]]), 0),
    people = vapply(counted, `[[`, 0L, 3L))
  list(answers = answers, codes = codes)
}

apply_range <- function(answers, items, out_of_range) {
  beyond <- function(i) { # item by item: the answers may fill half the memory
    x <- answers[, i]
    which(
      !is.na(x) &
        (
          (!is.na(items$lowest[i]) & x < items$lowest[i]) |
            (!is.na(items$highest[i]) & x > items$highest[i])))
  }
  outside <- do.call(rbind, lapply(seq_len(ncol(answers)), function(i) {
    rows <- beyond(i)
    cbind(rows, rep(i, length(rows)))
  }))
  if (!nrow(outside)) return(list(answers = answers, findings = NULL))
  outside <- outside[order(outside[, 2L], outside[, 1L]), , drop = FALSE]
  named <- sprintf("%s = %s (row %d)", colnames(answers)[outside[, 2L]],
    format(answers[outside], trim = TRUE), outside[, 1L])
  if (out_of_range == "stop") {
    stop_input("out_of_range",
      "Answers must lie within the codebook's `lowest` and `highest`.",
      got = sprintf("Outside: %s.", name_culprits(named)),
      todo = c("A code for \"no answer\" belongs in the codebook's `missing_codes`.",
        paste("Correct the answers, or take them for missing:",
          "questionnaire(out_of_range = \"missing\"), for people to score with `codebook` the",
          "solution; answers: {out_of_range: missing} in a study; --answers.out_of_range missing",
          "on the command line.")))
  }
  counts <- table(colnames(answers)[outside[, 2L]])
  answers[outside] <- NA
  list(answers = answers,
    findings = new_finding("out_of_range", names(counts),
      vapply(counts, count_of, "", one = "answer"), item = names(counts),
      value = as.numeric(counts)))
}

check_answered <- function(answers) {
  silent <- colnames(answers)[colSums(!is.na(answers)) == 0]
  if (!length(silent)) return(invisible())
  stop_input("no_answers", "Every item must have been answered by somebody.",
    got = sprintf("No answers at all: %s.", name_culprits(silent)),
    todo = "Leave these items out with `items`, or look whether their missing codes are right.")
}

# lowest + highest - answer, of the answers' own storage mode.
turn_round <- function(answers, lowest, highest) {
  turned <- lowest + highest - answers
  if (is.integer(answers)) as_whole(turned) else turned
}

key_items <- function(answers, items) {
  for (i in which(items$reversed)) {
    answers[, i] <- turn_round(answers[, i], items$lowest[i], items$highest[i])
  }
  answers
}

# Answers are finite; squares of them, and sums of these, must be numbers that there are.
check_sizes <- function(answers) {
  numbers <- answers[vapply(answers, is.double, NA)]
  endless <- vapply(numbers, function(x) any(is.infinite(x)), NA)
  if (any(endless)) {
    stop_input("infinite", "Answers must be finite numbers.",
      got = sprintf("Infinite values in %s.", name_culprits(names(numbers)[endless])),
      todo = "Mark missing answers by an empty cell or a missing code.")
  }
  odd <- vapply(numbers, function(x) {
    size <- abs(x)
    any(size > 1e50 | (size < 1e-50 & size > 0), na.rm = TRUE)
  }, NA)
  if (!any(odd)) return(invisible())
  stop_input("infinite", "Answers must be 0 or between 1e-50 and 1e50 in size.",
    got = sprintf("Not so in %s.", name_culprits(names(numbers)[odd])),
    todo = "Was a column read in other units than were meant?")
}
