# The class `item_tables`: counts that add up, and what is made of them.

new_item_tables <- function(values, settings, findings, call) {
  source <- list(
    fingerprint = rlang::hash(list(values$items$item, values$categories, rowSums(values$cells),
      values$sums, rowSums(values$people))),
    items = values$items$item, people = sum(values$people["people", ]))
  if (is.null(findings)) findings <- bind_findings()
  new_result("item_tables", values, settings, findings, source, call)
}

is_item_tables <- function(x) is_result(x, "item_tables")

# The counts of all random groups together, or of random groups drawn so often, as the core takes
# them.
counted_of <- function(x, often = NULL) {
  v <- x$values
  add <- function(m) if (is.null(often)) rowSums(m) else drop(m %*% often)
  p <- nrow(v$items)
  list(values = v$categories, cells = add(v$cells),
    sums = if (!is.null(v$sums)) array(add(matrix(v$sums, p * p * 5L)), c(p, p, 5L)),
    cubes = if (!is.null(v$cubes)) add(v$cubes), origins = v$origins, people = add(v$people),
    weighted = length(x$settings$weight) > 0)
}

# Counts as whole numbers, which take half the memory.
narrow_counts <- function(cells, weighted) {
  if (!weighted && all(cells < 2^31)) storage.mode(cells) <- "integer"
  cells
}

# How often each code for no answer came, item by item.
sum_codes <- function(codes) {
  if (is.null(codes) || !nrow(codes)) return(codes)
  total <- stats::aggregate(people ~ item + code, as.data.frame(codes), sum)
  tibble::as_tibble(total)
}

# Counts of some of the items, in their order.
keep_counted <- function(x, items) {
  v <- x$values
  at <- match(items, v$items$item)
  if (identical(at, seq_len(nrow(v$items)))) return(x)
  v$cells <- v$cells[core_rows_of_items(lengths(v$categories), at), , drop = FALSE]
  v$sums <- v$sums[at, at, , , drop = FALSE]
  v$cubes <- v$cubes[at, , drop = FALSE]
  v$items <- v$items[at, ]
  v[c("categories", "origins", "unfit")] <- list(v$categories[at], v$origins[at], v$unfit[at])
  v["groups"] <- list(if (length(v$groups)) lapply(v$groups, keep_counted, items))
  new_item_tables(v, x$settings, x$findings, x$call)
}

# What the core draws from: random groups, with weights of mean 1.
dealt_counts <- function(x) {
  v <- x$values
  by <- 1
  if (length(x$settings$weight)) by <- sum(v$people["people", ]) / sum(v$people["weight", ])
  sums <- v$sums
  if (!is.null(sums)) sums[, , -1L, ] <- sums[, , -1L, ] * by
  list(values = unname(v$categories), cells = v$cells * by + 0, sums = sums)
}

# Drawing needs random groups enough.
LEAST_RANDOM_GROUPS <- 20L

check_random_groups <- function(x) {
  random_groups <- ncol(x$values$cells)
  if (random_groups >= LEAST_RANDOM_GROUPS) return(invisible())
  stop_input("argument",
    sprintf("Counts that are drawn from must be kept in at least %d random groups.",
      LEAST_RANDOM_GROUPS),
    got = sprintf("There %s.", if (random_groups == 1L) "is 1" else paste("are", random_groups)),
    todo = c("Count again: tabulate_items(..., random_groups = 200).",
      if ("fewer_random_groups" %in% x$findings$code) "Of fewer items: more groups fit then."))
}

silent_items <- function(values) {
  own <- core_own_counts(values$categories, rowSums(values$cells))
  many <- lengths(values$categories) == 0
  answered <- vapply(own, sum, 0)
  if (any(many)) {
    p <- nrow(values$items)
    sums <- array(rowSums(matrix(values$sums, p * p * 5L)), c(p, p, 5L))
    answered[many] <- diag(matrix(sums[, , 1L], p))[many]
  }
  values$items$item[answered == 0]
}

#' Put counts together
#'
#' Counts of [tabulate_items()] from several sources, files, days or machines as those of all their
#' people. Items, categories and keys must be the same.
#'
#' @param ... Objects of class `item_tables`, or lists of them.
#' @return An object of class `item_tables`.
#' @section Errors: `softsieve_error_class`, `softsieve_error_other_items` (other items, categories,
#'   keys, random groups or weights).
#' @family large data
#' @examples
#' half <- repair_cafe$cafe %in% unique(repair_cafe$cafe)[1:5]
#' one <- tabulate_items(repair_cafe[half, ], codebook = repair_cafe_codebook)
#' other <- tabulate_items(repair_cafe[!half, ], codebook = repair_cafe_codebook)
#' merge_tables(one, other)
#' @export
merge_tables <- function(...) {
  given <- list(...)
  all <- unlist(lapply(given, function(x) if (class(x)[1L] == "list") unname(x) else list(x)),
    recursive = FALSE)
  if (!length(all) || !all(vapply(all, is_item_tables, NA))) {
    stop_input("class", "Tables of tabulate_items() must be given.", got = if (length(all)) {
      describe_value(Find(function(x) !is_item_tables(x), all))
    } else {
      "Nothing came."
    })
  }
  merged <- Reduce(function(a, b) add_tables(a, b), all)
  merged$call <- match.call()
  merged
}

add_tables <- function(a, b) {
  check_tables_alike(a, b)
  u <- a$values
  v <- b$values
  v <- moved_origins(v, u$origins)
  values <- u
  values$cells <- narrow_counts(u$cells + 0 + v$cells, length(a$settings$weight) > 0)
  for (part in c("sums", "cubes", "people")) {
    if (!is.null(u[[part]])) values[[part]] <- u[[part]] + v[[part]]
  }
  values$unfit <- u$unfit + v$unfit
  values$missing_codes <- sum_codes(rbind(u$missing_codes, v$missing_codes))
  names <- union(names(u$groups), names(v$groups))
  values["groups"] <- list(if (length(names)) {
    sapply(names, simplify = FALSE, function(name) {
      both <- Filter(Negate(is.null), list(u$groups[[name]], v$groups[[name]]))
      Reduce(function(one, other) add_tables(one, other), both)
    })
  })
  findings <- rbind(a$findings, b$findings)
  new_item_tables(values, a$settings, findings[!duplicated(findings), ], a$call)
}

# Sums about other origins.
moved_origins <- function(v, origins) {
  by <- v$origins - origins
  if (is.null(v$sums) || !any(by != 0)) return(v)
  p <- length(by)
  random_groups <- ncol(v$cells)
  for (d in seq_len(random_groups)) {
    s <- lapply(1:5, function(part) matrix(v$sums[, , part, d], p))
    n <- s[[2L]]
    v$cubes[, d] <- v$cubes[, d] + 3 * by * diag(s[[4L]]) + 3 * by^2 * diag(s[[3L]]) +
      by^3 * diag(n)
    v$sums[, , 3L, d] <- s[[3L]] + by * n
    v$sums[, , 4L, d] <- s[[4L]] + 2 * by * s[[3L]] + by^2 * n
    v$sums[, , 5L, d] <- s[[5L]] + by * t(s[[3L]]) + t(by * t(s[[3L]])) + (by %o% by) * n
  }
  v$origins <- origins
  v
}

check_tables_alike <- function(a, b) {
  u <- a$values
  v <- b$values
  about <- c("item", "lowest", "highest", "reversed")
  wrong <- first_wrong(
    "They have other items." = !identical(u$items$item, v$items$item),
    "Other categories are counted." = !identical(u$categories, v$categories),
    "Items are keyed differently." = !identical(as.list(u$items[about]), as.list(v$items[about])),
    "Some are weighted." = !identical(length(a$settings$weight), length(b$settings$weight)),
    "People were split into other numbers of random groups." = ncol(u$cells) != ncol(v$cells),
    "Missing answers were treated differently." = !identical(a$settings$missing, b$settings$missing)
  )
  if (!length(wrong)) return(invisible())
  stop_input("other_items",
    "Tables that are put together must be of the same items, counted alike.", got = wrong,
    todo = "Count them with the same codebook and settings.")
}

#' @exportS3Method tibble::as_tibble
as_tibble.item_tables <- function(x, ...) {
  v <- x$values
  own <- core_own_counts(v$categories, rowSums(v$cells))
  tibble_of(item = rep(v$items$item, lengths(v$categories)),
    answer = as.numeric(unlist(v$categories)), people = unlist(own))
}

#' @export
glance.item_tables <- function(x, ...) {
  check_dots_empty(...)
  v <- x$values
  tibble_of(people = sum(v$people["people", ]), items = nrow(v$items),
    counted = sum(lengths(v$categories) > 0), weighted = length(x$settings$weight) > 0,
    random_groups = ncol(v$cells), unfit = sum(v$unfit))
}
