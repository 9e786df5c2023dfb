# How a result looks: printed, as tables, drawn, written.

look_at <- function(x, of, log) {
  if (is.data.frame(x)) return(invisible())
  printed <- attempt(function() utils::capture.output(print(x)), sprintf("print(<%s>)", of), log)
  fits(printed, sprintf("print(<%s>)", of), log)
  if (!is.null(getS3method("summary", of, optional = TRUE))) {
    said <- attempt(function() utils::capture.output(print(summary(x))),
      sprintf("summary(<%s>)", of), log)
    fits(said, sprintf("summary(<%s>)", of), log)
  }
  drawn_of(x, of, log)
  written_as(x, of, log)
}

fits <- function(lines, what, log) {
  wide <- lines[nchar(lines, "width") > 80L]
  if (length(wide)) wrong(log, what, c("wider than 80 columns:", wide[1L]))
  own <- grep(OWN_WORDS, lines, value = TRUE)
  if (length(own)) wrong(log, what, c("R's own words:", own[1L]))
}

drawn_of <- function(x, of, log) {
  for (name in names(softsieve:::figures_of(x))) {
    what <- sprintf("plot(<%s>, \"%s\")", of, name)
    attempt(function() draw_to_nothing(x, name), what, log)
  }
}

draw_to_nothing <- function(x, name) {
  grDevices::pdf(NULL, 12.8, 8)
  on.exit(grDevices::dev.off())
  plot(x, name)
  TRUE
}

written_as <- function(x, of, log) {
  forms <- setdiff(names(softsieve:::WRITERS), "parquet")
  third <- (nchar(of) + match(log$world, names(WORLDS))) %% 3L
  if (getOption("worlds.part") && third) forms <- setdiff(forms, "docx")
  for (form in forms) {
    file <- tempfile(fileext = paste0(".", form))
    what <- sprintf("write_table(<%s>, \"x.%s\")", of, form)
    attempt(function() write_table(x, file), what, log)
    if (form == "csv" && file.exists(file)) {
      own <- grep("NaN|\\bInf\\b|NULL|c\\(", readLines(file, warn = FALSE), value = TRUE)
      if (length(own)) wrong(log, what, c("holds", own[1L]))
    }
    unlink(file)
  }
}

# Formulas of scores as R code, run, give what predict() gives to whoever answered everything.
formulas_agree <- function(pool, log) {
  # (raw data have no columns made of categories)
  split <- length(pool$questionnaire$settings$categories)
  if (is.null(pool$data.frame) || split) return(invisible())
  for (of in intersect(c("factor_solution", "softsieve_scale_set"), names(pool))) {
    what <- sprintf("formula_code(<%s>)", of)
    x <- pool[[of]]
    expected <- attempt(function() predict(x, pool$data.frame), what, log)
    code <- attempt(function() formula_code(score_formula(x), "r"), what, log)
    if (is.null(code) || is.null(expected)) next
    space <- new.env()
    eval(parse(text = code), space)
    found <- attempt(function() space$score_people(pool$data.frame), what, log)
    differs <- abs(as.matrix(found) - as.matrix(expected[names(found)]))
    if (any(differs > 1e-9, na.rm = TRUE)) wrong(log, what, "differs from predict()")
  }
}
