# The papers that methods and cut-offs rest on stand in inst/catalogue/references.yml, by the short
# form used elsewhere.

paper_specs <- function() {
  all <- catalogue("references")$references
  stats::setNames(all, vapply(all, `[[`, "", "id"))
}

reference_text <- function(short) sort(unname(vapply(paper_specs()[short], full_reference, "")))

# For help pages: the papers named, in that order.
describe_papers <- function(...) {
  asked <- paper_specs()[c(...)]
  if (anyNA(names(asked))) stop("papers that references.yml does not have: ", toString(c(...)))
  said <- vapply(asked, function(one) {
    title <- if (is.null(one[["container-title"]])) one$title else one[["container-title"]]
    sub(title, paste0("*", title, "*"), full_reference(one), fixed = TRUE)
  }, "")
  paste("@references", paste(said, collapse = "\n\n"))
}

full_reference <- function(one) {
  one <- c(one, if (is.null(one[["issue"]])) list(issue = ""))
  title <- paste0(one$title, if (!is.null(one$edition)) sprintf(" (%s ed.)", one$edition),
    if (!is.null(one$number)) sprintf(" (%s No. %s)", one$genre, one$number))
  place <- switch(one$type,
    "article-journal" = sprintf("%s, %s%s, %s", one[["container-title"]], one$volume,
      sub("(.+)", "(\\1)", one[["issue"]]), one$page),
    chapter = paste(
      c(sprintf("In %s (%s), %s (pp. %s)", join_people(one$editor, FALSE),
        if (length(one$editor) > 1L) "Eds." else "Ed.", one[["container-title"]],
        one$page), one$publisher),
      collapse = ". "),
    manuscript = paste(c(one$genre, one$publisher), collapse = ", "),
    one$publisher)
  paste0(join_people(one$author, TRUE), " (", one[["issued"]], "). ", title,
    if (!grepl("[.?!]$", title)) ".", if (length(place)) paste0(" ", place, "."))
}

join_people <- function(people, family_first) {
  names <- vapply(people, function(one) {
    if (family_first) paste0(one$family, ", ", one$given) else paste(one$given, one$family)
  }, "")
  last <- length(names)
  if (last < 2L) return(names)
  comma <- family_first || last > 2L
  paste0(paste(names[-last], collapse = ", "), if (comma) ",", " & ", names[last])
}
