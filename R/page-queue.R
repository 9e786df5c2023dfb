# Two processes work for a page: one answers at once what a click asks, the other works out what
# takes longer. Processes of callr, not futures: one that is overtaken can be interrupted and keeps
# what it has read. What was overtaken is thrown away when it arrives.

PAGE_CHECK_EVERY <- 0.04 # seconds between looks at what is done

new_worker <- function(page) {
  worker <- new.env(parent = emptyenv())
  worker$page <- page
  worker$waiting <- list()
  worker$session <- callr::r_session$new(
    callr::r_session_options(system_profile = FALSE, user_profile = FALSE), wait = TRUE)
  worker
}

# `then` is called with what the task gave, unless its like (`kind`) was asked again meanwhile.
# What is asked `first` goes before what is under way, which is then begun again.
ask_worker <- function(worker, kind, arguments, then, first = FALSE) {
  others <- Filter(function(one) one$kind != kind, worker$waiting)
  task <- list(kind = kind, arguments = arguments, then = then, first = first, tries = 0L)
  busy <- worker$busy
  working <- !is.null(busy) && !isTRUE(busy$overtaken)
  aside <- working && first && !busy$first && busy$kind != kind
  before <- c(list(task), if (aside) list(busy))
  worker$waiting <- if (first) c(before, others) else c(others, before)
  if (aside || working && busy$kind == kind) overtake(worker)
  look_at(worker)
}

# What works, and all that waits, is of a state that is no more.
overtake_all <- function(worker, spared = FALSE) {
  worker$waiting <- list()
  if (!spared) overtake(worker)
}

overtake <- function(worker) {
  if (is.null(worker$busy)) return(invisible())
  if (!isTRUE(worker$busy$overtaken)) worker$busy$left <- Sys.time()
  worker$busy$overtaken <- TRUE
  worker$session$interrupt()
}

# Takes up what is done, gives out what is next, and looks again while anything is under way.
look_at <- function(worker) {
  if (!is.null(worker$busy)) take_up(worker)
  if (is.null(worker$busy) && length(worker$waiting)) give_out(worker)
  if (!is.null(worker$busy) && !isTRUE(worker$looking)) {
    worker$looking <- TRUE
    later::later(function() {
      worker$looking <- FALSE
      if (!isTRUE(worker$page$closed)) look_at(worker)
    }, PAGE_CHECK_EVERY)
  }
}

give_out <- function(worker) {
  if (!worker$session$is_alive() || worker$session$get_state() != "idle") restart(worker)
  worker$busy <- worker$waiting[[1L]]
  worker$waiting <- worker$waiting[-1L]
  worker$session$call(page_task, worker$busy$arguments, package = TRUE)
}

restart <- function(worker) {
  worker$session$close()
  worker$session <- callr::r_session$new(
    callr::r_session_options(system_profile = FALSE, user_profile = FALSE), wait = TRUE)
}

# An interrupt between a task and its answer can take the answer with it: nothing comes any more.
SECONDS_TO_END <- 4

lost <- function(busy) {
  isTRUE(busy$overtaken) && difftime(Sys.time(), busy$left, units = "secs") > SECONDS_TO_END
}

HIT <- c("interrupt", "callr_timeout_error")
PAGE_TRIES <- 3L

take_up <- function(worker) {
  session <- worker$session
  answer <- if (session$poll_process(0) == "ready") session$read()
  # (200 is an answer; other codes are what the process says on its way)
  answered <- isTRUE(answer$code == 200L)
  if (!answered && lost(worker$busy)) session$kill()
  if (!answered && session$is_alive()) return(invisible())
  done <- worker$busy
  worker$busy <- NULL
  if (isTRUE(done$overtaken)) return(invisible())
  # an interrupt that came too late for another task hit this one, or the process has ended: it is
  # begun again
  hit <- !answered || isTRUE(answer$result$overtaken) || inherits(answer$error, HIT)
  if (hit && done$tries < PAGE_TRIES) {
    done$tries <- done$tries + 1L
    worker$waiting <- c(list(done), worker$waiting)
    return(invisible())
  }
  result <- if (!answered) {
    list(problem = "The process that works for the page has ended.")
  } else if (!is.null(answer$error)) {
    list(problem = conditionMessage(answer$error))
  } else {
    answer$result
  }
  # whatever goes wrong with one answer, the page stays
  tryCatch(done$then(result), error = function(e) {
    tell_page(worker$page, "said", list(problem = conditionMessage(e)))
  })
}
