# Files of kinds that others wrote the readers of (sheets, Parquet) are read in a process of its
# own, which a damaged file may end or keep without harm to this one.

# What `read(file, sheet)` gives: columns. It is a function that knows nothing of this session, or
# the name of one of ours.
read_apart <- function(read, file, sheet, package, call) {
  for (needed in c("callr", package)) needs_reader(needed, file, call)
  refuse <- function(got) stop_damaged(file, got, call)
  ours <- function(name, file, sheet) get(name, envir = asNamespace("softsieve"))(file, sheet)
  seconds <- ceiling(8 + file.size(file) / 2^20 * 5)
  tryCatch(
    callr::r(
      if (is.character(read)) ours else read,
      c(if (is.character(read)) list(read), list(normalizePath(file), sheet)),
      # a file that asks for more is none that holds answers
      env = c(callr::rcmd_safe_env(), R_MAX_VSIZE = "4Gb"),
      timeout = seconds,
      error = "error"
    ),
    error = function(e) refuse(why_not_read(e, seconds))
  )
}

why_not_read <- function(e, seconds) {
  if (inherits(e, "callr_timeout_error")) {
    return(sprintf("It was not read within %s seconds.", format(seconds)))
  }
  why <- if (inherits(e, "callr_status_error")) e$parent else e
  if (is.null(why)) return("Its reader broke down.")
  sub("\n.*$", "", conditionMessage(why))
}

needs_reader <- function(package, file, call) {
  if (requireNamespace(package, quietly = TRUE)) return(invisible())
  stop_input(
    "reader",
    sprintf(
      "Files like \"%s\" are read by the package %s, which must be installed.",
      basename(file),
      package
    ),
    got = "It is not.",
    todo = sprintf("install.packages(\"%s\"), or save the file as CSV.", package),
    call = call
  )
}

# Zip files: "xlsx", "ods" or "zip", by what is in them. What they would unpack to has a limit.
kind_of_zip <- function(file, call) {
  damaged <- function(e) stop_damaged(file, "It is no whole zip file, which sheets are.", call)
  inside <- tryCatch(utils::unzip(file, list = TRUE), error = damaged, warning = damaged)
  if (nrow(inside) > 1e4 || anyNA(inside$Length) || sum(inside$Length) > MOST_BYTES) {
    stop_too_large(file, "bytes unpacked", call)
  }
  wrong <- wrong_in_zip(file)
  if (length(wrong)) stop_damaged(file, sprintf("It is damaged: %s.", wrong), call)
  if ("xl/workbook.xml" %in% inside$Name) return("xlsx")
  if ("content.xml" %in% inside$Name) return("ods")
  stop_input(
    "reader",
    "A zip file must be a sheet (XLSX or ODS).",
    got = sprintf("In \"%s\": %s.", basename(file), name_culprits(inside$Name, 3L)),
    todo = "Unpack it, and read the file that holds the answers.",
    call = call
  )
}
