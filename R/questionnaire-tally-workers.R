# Several processes that count one table of PostgreSQL together. This one holds the snapshot and
# says who reads which pages; each worker connects by itself, counts, and hands its counts over.

count_together <- function(source, workers, rows, choose, begin, state, progress) {
  check_shareable(source)
  door <- door_of(source$connection)
  on.exit(door$close())
  trying <- function(code) try_database(code)
  reading <- trying(begin_reading(door))
  on.exit(try(reading(), silent = TRUE), add = TRUE, after = FALSE)
  columns <- choose(trying(columns_of_table(door, source$table)))
  cells <- trying(cells_of_table(door, source$table, columns))
  plan <- trying(plan_pages(door, source$table, rows))
  if (is.null(plan)) stop_unshareable("It is none.")
  snapshot <- trying(door$ask("SELECT pg_export_snapshot()")[[1L]])
  # pages that come while we look hold nothing that the snapshot sees
  first <- first_people(door, cells, plan)
  if (is.null(first)) return(0)
  begin(first)
  shares <- share_pages(door, plan, workers, trying)
  payloads <- lapply(seq_len(nrow(shares)), function(i) {
    list(source = source, cells = cells, plan = plan, snapshot = snapshot, share = shares[i, ],
      state = mget(PLAIN_STATE, envir = state))
  })
  add_counts(state, run_workers(payloads, progress))
  sum(shares$people)
}

# What begin_tally() settles, as plain data.
PLAIN_STATE <- c("columns", "words", "open", "described", "values", "origins", "asked")

check_shareable <- function(source) {
  needs_package("callr", "Workers")
  if (!is_database_table(source)) stop_unshareable(describe_value(source))
  own <- is.character(source$connection) || is.function(source$connection)
  if (!own) stop_unshareable("It came with a connection, which no other process can use.")
}

stop_unshareable <- function(got) {
  stop_input("source",
    paste("What several workers read must be a plain table of PostgreSQL 14 or later, given by an",
      "address or a function that connects."),
    got = got,
    todo = "database_table(\"postgresql://host/panel\", \"answers\"); or leave out `workers`.")
}

# The first block with people in it.
first_people <- function(door, cells, plan) {
  opened <- open_pages(door, cells, plan)
  on.exit(opened$close())
  repeat {
    block <- try_database(opened$take())
    if (is.null(block) || nrow(block)) return(block)
  }
}

# Who reads which pages: as many ranges for each as for the others. People are numbered in the
# order of the table, as one process would.
share_pages <- function(door, plan, workers, trying) {
  ranges <- ceiling(plan$pages / plan$size)
  cuts <- unique(round(seq(0, ranges, length.out = min(workers, ranges) + 1))) * plan$size
  cuts[length(cuts)] <- plan$pages
  shares <- data.frame(from = utils::head(cuts, -1L), to = cuts[-1L])
  shares$people <- mapply(function(from, to) trying(people_between(door, plan$name, from, to)),
    shares$from, shares$to)
  shares$first <- cumsum(shares$people) - shares$people
  shares
}

# In a worker: counts its share. How many people it has counted goes to its standard output.
count_share <- function(payload) {
  options(softsieve.works = TRUE)
  state <- list2env(payload$state)
  start_counts(state)
  door <- door_of(payload$source$connection)
  on.exit(door$close())
  share <- payload$share
  reading <- try_database(begin_reading(door, payload$snapshot))
  on.exit(try(reading(), silent = TRUE), add = TRUE, after = FALSE)
  opened <- open_pages(door, payload$cells, payload$plan, share$from, share$to)
  done <- 0
  while (!is.null(block <- try_database(opened$take()))) {
    if (nrow(block)) add_block(block, share$first + done, state, 1L)
    done <- done + nrow(block)
    cat(sprintf("%.0f\n", done))
  }
  list(tally = read_counts(state$tally, 1L), groups = lapply(state$groups, read_counts, 1L),
    nameless = state$nameless, unfit = state$unfit, codes = state$codes)
}

# Runs the workers to their end; when one fails the others are ended.
run_workers <- function(payloads, progress) {
  processes <- lapply(payloads, function(payload) {
    callr::r_bg(count_share, list(payload), package = TRUE, stdout = "|",
      env = callr::rcmd_safe_env())
  })
  on.exit(for (process in processes) process$kill())
  done <- numeric(length(processes))
  repeat {
    alive <- vapply(processes, function(process) process$is_alive(), NA)
    for (i in seq_along(processes)) {
      said <- utils::tail(processes[[i]]$read_output_lines(), 1L)
      if (length(said)) done[i] <- as.numeric(said)
    }
    progress(sum(done))
    failed <- which(!alive & vapply(processes, function(p) !identical(p$get_exit_status(), 0L), NA))
    if (length(failed) || !any(alive)) break
    Sys.sleep(0.05)
  }
  first <- c(failed, seq_along(processes))
  came <- list()
  for (i in unique(first)) {
    came[[i]] <- tryCatch(processes[[i]]$get_result(), error = function(e) {
      stop_worker(e, sum(done))
    })
  }
  came
}

stop_worker <- function(e, people) {
  why <- if (!is.null(e$parent)) e$parent else e
  if (inherits(why, "softsieve_error")) signal_again(why)
  stop_broken(why, people)
}

add_counts <- function(state, came) {
  add <- function(parts) {
    sum_of <- function(name) {
      if (!is.null(parts[[1L]][[name]])) Reduce(`+`, lapply(parts, `[[`, name))
    }
    lapply(stats::setNames(nm = names(parts[[1L]])), sum_of)
  }
  state$tally <- add(lapply(came, `[[`, "tally"))
  named <- unique(unlist(lapply(came, function(one) names(one$groups))))
  check_counted_groups(length(named), state)
  state$groups <- lapply(stats::setNames(nm = named), function(name) {
    there <- Filter(Negate(is.null), lapply(came, function(one) one$groups[[name]]))
    add(there)
  })
  for (name in c("nameless", "unfit")) state[[name]] <- Reduce(`+`, lapply(came, `[[`, name))
  state$codes <- do.call(rbind, lapply(came, `[[`, "codes"))
}
