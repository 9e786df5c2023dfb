# What is a result of ours.

# Is `x` a whole result of one of these classes, and not only called so?
is_result <- function(x, class = "softsieve_result") {
  if (!inherits(x, "softsieve_result") || !inherits(x, class) || !is.list(x)) return(FALSE)
  parts <- unclass(x)
  all(c("values", "settings", "findings", "source") %in% names(parts)) && is.list(parts$values)
}

# The classes of results: those that have a print() of ours.
own_classes <- function() {
  space <- ls(environment(own_classes), pattern = "^print[.]", all.names = TRUE)
  sub("^print[.]", "", space)
}
