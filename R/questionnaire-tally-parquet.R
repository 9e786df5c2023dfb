# Parquet files are counted where they are read, in a process of its own: what comes back is the
# first block of people, which settles what is counted, and in the end the counts.

count_parquet <- function(source, rows, choose, begin, state, threads, progress) {
  for (package in c("callr", "nanoparquet")) needs_reader(package, source[1L])
  files <- normalizePath(find_files(source), mustWork = FALSE)
  there <- counter_apart()
  on.exit(there$close())
  names <- there$do("names_of_part", files[1L], file = files[1L])
  check_column_names(names, basename(files[1L]))
  wanted <- choose(names)
  asked <- list(columns = wanted, all = setequal(wanted, names), rows = rows)
  people <- 0
  for (file in files) {
    if (!people) {
      first <- there$do("open_part", file, asked, file = file)
      if (!NROW(first)) next
      begin(first)
      there$do("begin_part", mget(PLAIN_STATE, envir = state), asked, threads, file = file)
    }
    repeat {
      counted <- there$do("count_part", file, people, file = file,
        seconds = seconds_to_read(file) + 60)
      people <- people + counted$people
      progress(people)
      if (counted$ended) break
    }
  }
  if (people) add_counts(state, list(there$do("counts_of_part", file = file, seconds = Inf)))
  people
}

# do(step, ..., file, seconds): a step below, there; what breaks down says so of the file.
counter_apart <- function() {
  options <- callr::r_session_options(system_profile = FALSE, user_profile = FALSE,
    env = limits_apart("8Gb"))
  session <- callr::r_session$new(options, wait = TRUE)
  step_there <- function(step, given) {
    options(softsieve.works = TRUE)
    do.call(get(step, envir = asNamespace("softsieve")), given)
  }
  environment(step_there) <- baseenv()
  do <- function(step, ..., file, seconds = seconds_to_read(file)) {
    session$call(step_there, list(step, list(...)))
    tryCatch(answer_of(session, seconds, "Its reader broke down."), error = function(e) {
      if (inherits(e, "softsieve_error")) rlang::cnd_signal(e)
      stop_damaged(file, first_line(conditionMessage(e)))
    })
  }
  list(do = do, close = function() session$kill())
}

# There: the file that is open (`block`: the block that comes next), and what was counted.
PART <- new.env()

names_of_part <- function(file) parquet_names(file)

# The first block of a file, or NULL.
open_part <- function(file, asked) {
  PART$file <- file
  columns <- flat_columns(parquet_columns(file, asked), file, "Parquet")$data
  PART$take <- open_frame(columns, list2env(asked))$take
  PART$block <- PART$take()
}

begin_part <- function(state, asked, threads) {
  PART$state <- list2env(state)
  PART$asked <- asked
  PART$threads <- threads
  start_counts(PART$state)
}

# Counts a file for about a second (each call takes a fiftieth of one by itself): how many people it
# counted, and whether the file ended.
count_part <- function(file, first) {
  if (file != PART$file) open_part(file, PART$asked)
  until <- proc.time()[["elapsed"]] + 1
  people <- 0
  while (!is.null(PART$block) && proc.time()[["elapsed"]] < until) {
    add_block(PART$block, first + people, PART$state, PART$threads)
    people <- people + nrow(PART$block)
    PART$block <- PART$take()
  }
  ended <- is.null(PART$block)
  if (ended) PART$file <- "" # (the same file may come again)
  list(people = people, ended = ended)
}

counts_of_part <- function() counts_of(PART$state, PART$threads)
