# Zip files (sheets, Word): what is in them, and whether it is what was packed.

# The entries by the directory at the file's end (its layout: PKWARE's APPNOTE, 4.3.12): names, sums
# (CRC-32) and sizes unpacked; NULL where there is not a whole directory.
zip_entries <- function(file) {
  bytes <- readBin(as_path(file), "raw", file.size(file))
  n <- length(bytes)
  if (n < 22L) return(NULL)
  from <- max(1L, n - 65557L)
  tail <- bytes[from:n]
  ends <- grepRaw(as.raw(c(0x50, 0x4b, 0x05, 0x06)), tail, all = TRUE)
  if (!length(ends)) return(NULL)
  end <- from + ends[length(ends)] - 1L
  if (end + 21L > n) return(NULL)
  count <- little(bytes, end + 10L, 2L)
  at <- little(bytes, end + 16L, 4L) + 1
  found <- list(name = character(), sum = numeric(), size = numeric())
  for (i in seq_len(count)) {
    if (at + 45 > n || little(bytes, at, 4L) != 0x02014b50) return(NULL)
    long <- little(bytes, at + 28, 2L)
    if (at + 45 + long > n) return(NULL)
    name <- bytes[seq(at + 46, length.out = long)]
    found$name[i] <- rawToChar(name[name != as.raw(0L)])
    found$sum[i] <- little(bytes, at + 16, 4L)
    found$size[i] <- little(bytes, at + 24, 4L)
    at <- at + 46 + long + little(bytes, at + 30, 2L) + little(bytes, at + 32, 2L)
  }
  as.data.frame(found)
}

# What is wrong with a zip file, in words, or nothing: every entry unpacks to what its sum says.
# `look(name, bytes)` sees each.
wrong_in_zip <- function(file, look = function(name, bytes) NULL) {
  entries <- tryCatch(zip_entries(file), error = function(e) NULL)
  if (is.null(entries) || !nrow(entries)) return("its directory is not whole")
  if (nrow(entries) > 1e4 || sum(entries$size) > MOST_BYTES) return(character())
  held <- entries[entries$size > 0, ]
  for (i in seq_len(nrow(held))) {
    bytes <- unpacked(file, held$name[i], held$size[i])
    good <- length(bytes) == held$size[i] && cpp_zip_sum(bytes) == held$sum[i]
    if (!good) return(sprintf("\"%s\" in it is not what was packed", held$name[i]))
    look(held$name[i], bytes)
  }
  character()
}

unpacked <- function(file, name, size) {
  empty <- function(e) raw()
  tryCatch({
    from <- unz(file, name, "rb")
    on.exit(close(from))
    readBin(from, "raw", size + 1)
  }, error = empty, warning = empty)
}
