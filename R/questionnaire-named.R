# Items that people name.

# Items by bare names or words.
settle_named_items <- function(asked, name, items, known = c("that are there", "Not there")) {
  named <- tryCatch(rlang::eval_tidy(asked, as.list(rlang::set_names(items))),
    error = function(e) rlang::as_label(asked))
  check_sift_items(named, name, items, known)
}

check_sift_items <- function(wanted, name, items, known = c("that are there", "Not there")) {
  if (length(wanted) || !is.character(wanted) && !is.null(wanted)) {
    wanted <- check_words(wanted, name)
  }
  strange <- setdiff(wanted, items)
  if (!length(strange)) return(as.character(wanted))
  stop_input("items", sprintf("`%s` must name items %s.", name, known[1L]),
    got = sprintf("%s: %s.", known[2L], name_culprits(strange)),
    todo = hint_nearest(as.character(strange[1L]), items))
}
