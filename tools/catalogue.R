# Packs inst/catalogue/*.yml, which people edit, into the one file that is installed of them
# (.Rinstignore): Rscript tools/catalogue.R. tools/install.sh calls it; a test holds the two
# together. Each file stands there beneath a line "%% name".
packed <- "inst/catalogue/all.xz"
text <- unlist(lapply(list.files("inst/catalogue", "[.]yml$", full.names = TRUE), function(file) {
  c(paste("%%", sub("[.]yml$", "", basename(file))), readLines(file, encoding = "UTF-8"))
}))
text <- charToRaw(paste0(enc2utf8(text), "\n", collapse = ""))
bytes_of <- function(file) readBin(file, "raw", file.size(file))
same <- file.exists(packed) && identical(memDecompress(bytes_of(packed), "xz"), text)
if (!same) writeBin(memCompress(text, "xz"), packed)
