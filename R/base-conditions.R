# Errors: classed, raised in the caller's name, and written in three parts: what must
# hold, what came, what to do next. The texts are plain strings: nothing in them is interpolated or
# evaluated, whatever a user's column or wording contains.

# `must`: one sentence. `got`: none, one or several lines. `todo`: one or several lines.
# `what` becomes the class softsieve_error_<what>; `...` are fields kept on the condition.
stop_input <- function(what, must, got = character(), todo = character(), ...) {
  lines <- visible_text(c(must, got, as.character(todo)))
  names(lines) <- rep(c("", "x", "i"), c(length(must), length(got), length(todo)))
  rlang::abort(lines, class = c(paste0("softsieve_error_", what), "softsieve_error"),
    call = called_frame(), ...)
}

# An error of ours that another process came to, in the name of the function called here.
signal_again <- function(e) {
  e$call <- sys.call(called_at())
  rlang::cnd_signal(e)
}

# The frame of the function that people called: the outermost of ours, so that nothing has to hand
# its name down. What a function of theirs calls, which we call, is theirs.
called_frame <- function() sys.frame(called_at())

# The arguments of that function, for hints.
called_arguments <- function() names(formals(sys.function(called_at())))

called_at <- function() {
  found <- 0L
  ours <- environment(called_frame)
  for (i in rev(seq_len(sys.nframe()))) {
    home <- environment(sys.function(i))
    if (identical(home, ours)) found <- i
    if (!is.null(home) && identical(topenv(home), globalenv())) break
  }
  found
}

# Calls `f` with these values as they are: what is a call or a name stays one, and is not run.
call_with <- function(f, values) do.call(f, values, quote = TRUE)

# "t4, n2 and 3 more": up to `most` culprits and the count of the rest.
name_culprits <- function(x, most = 10L) {
  if (is.numeric(x) && !is.object(x)) x <- plain_numbers(x)
  x <- visible_text(as.character(x), blanks = TRUE)
  if (length(x) <= most) return(join_words(x))
  paste0(paste(x[seq_len(most)], collapse = ", "), " and ", length(x) - most, " more")
}

join_words <- function(x) {
  if (length(x) < 2L) return(paste(x, collapse = ""))
  paste(paste(x[-length(x)], collapse = ", "), "and", x[length(x)])
}

# The nearest of `choices` to what was typed, as a hint, or nothing when none is near. An old name
# is answered with the new one, where that is one of `renamed`.
hint_nearest <- function(typed, choices, renamed = choices) {
  if (!length(choices) || is.na(typed) || !validEnc(typed)) return(character())
  # (of an entry, "section.name")
  now <- c(now_called(typed),
    paste0(sub("[^.]*$", "", typed), now_called(sub(".*[.]", "", typed))))[1L]
  if (now %in% renamed) return(sprintf("It is called \"%s\" now.", now))
  away <- utils::adist(lower(typed), lower(choices))[1L, ]
  # two edits are a swap of letters; a short word bears no more than one
  bearable <- if (nchar(typed) < 3L) 1 else max(2, nchar(typed) / 3)
  near <- which.min(away)
  if (!length(near) || away[near] > bearable) return(character())
  sprintf("Did you mean \"%s\"?", choices[near])
}

# (a text that a library cut may end within a letter)
first_line <- function(text) {
  if (!validUTF8(text)) text <- iconv(text, "UTF-8", "UTF-8", sub = "?")
  strsplit(paste0(text, "\n"), "\n", fixed = TRUE)[[1L]][1L]
}
