# Which columns of the data are meant, in tidyselect's language, and which are items.

# Every column is one value for each person.
check_flat <- function(data) {
  flat <- vapply(data, function(x) is.atomic(x) && is.null(dim(x)) && length(x) == nrow(data), NA)
  if (all(flat)) return(invisible())
  stop_input("items", "Every column of the data must hold one value for each person.",
    got = sprintf("Not so: %s.", name_culprits(names(data)[!flat])),
    todo = "Take apart columns that hold lists or matrices.")
}

select_columns <- function(selection, data, name) {
  if (rlang::quo_is_null(selection)) return(character())
  # names in a study file come as text; in R code as columns
  chosen <- tryCatch(names(data)[tidyselect::eval_select(selection, data)], error = function(e) {
    absent <- if (inherits(e, "vctrs_error_subscript_oob") && is.character(e$i)) e$i
    stop_input("items",
      sprintf("`%s` must choose columns that the data have.", name),
      got = if (length(absent)) {
        sprintf("The data have no column %s.", name_culprits(absent))
      } else {
        conditionMessage(e)
      },
      todo = c(if (length(absent)) hint_nearest(absent[1L], names(data)),
        sprintf("The data's columns: %s.", name_culprits(names(data), 30L))))
  })
  if (name == "items" && !length(chosen)) {
    stop_input("items", "`items` must choose at least two columns.", got = "It chooses none.",
      todo = sprintf("The data's columns: %s.", name_culprits(names(data), 30L)))
  }
  if (name %in% c("id", "weight", "cluster") && length(chosen) > 1L) {
    stop_input("items", sprintf("`%s` must be one column.", name),
      got = sprintf("%s came.", name_culprits(chosen)))
  }
  chosen
}

# Which columns are items; what the codebook and the data do not share is an error.
settle_items <- function(columns, available, codebook, made = character()) {
  apart <- c(columns$id, columns$group, columns$weight, columns$cluster, columns$order)
  chosen <- columns$items
  if (!length(chosen)) chosen <- if (is.null(codebook)) setdiff(available, apart) else codebook$item
  absent <- setdiff(chosen, available)
  if (length(absent)) {
    stop_input("items",
      "Every item of the codebook must be a column of the data.",
      got = sprintf("The data have no column %s.", name_culprits(absent)),
      todo = c(hint_nearest(absent[1L], setdiff(available, chosen)),
        "Correct the name, or choose the items there are with `items`."))
  }
  unknown <- if (is.null(codebook)) character() else setdiff(chosen, codebook$item)
  if (length(unknown)) {
    stop_input("items", "Every item must stand in the codebook.",
      got = sprintf("The codebook has no item %s.", name_culprits(unknown)),
      todo = c(hint_nearest(unknown[1L], setdiff(codebook$item, chosen)),
        "Add a row to the codebook, or leave the item out of `items`."))
  }
  both <- intersect(chosen, apart)
  if (length(both)) {
    stop_input("items",
      "A column must be an item or kept apart (id, group, weight, cluster, order), not both.",
      got = sprintf("Both: %s.", name_culprits(both)))
  }
  if (length(chosen) + length(made) < 2L) {
    stop_input("items", "A questionnaire must have at least two items.",
      got = sprintf("%s came.", count_of(length(chosen), "item")))
  }
  chosen
}
