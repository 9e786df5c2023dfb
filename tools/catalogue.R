# Packs what people edit, inst/catalogue/*.yml and inst/web, into the one file each that is
# installed of them (.Rinstignore): Rscript tools/catalogue.R. tools/install.sh calls it; a test
# holds the two together. Each file stands there beneath a line "%% name".
bytes_of <- function(file) readBin(file, "raw", file.size(file))
for (folder in c("inst/catalogue", "inst/web")) {
  packed <- file.path(folder, "all.xz")
  files <- setdiff(list.files(folder, full.names = TRUE), packed)
  text <- unlist(lapply(files, function(file) {
    c(paste("%%", sub("[.]yml$", "", basename(file))), readLines(file, encoding = "UTF-8"))
  }))
  text <- charToRaw(paste0(enc2utf8(text), "\n", collapse = ""))
  same <- file.exists(packed) && identical(memDecompress(bytes_of(packed), "xz"), text)
  if (!same) writeBin(memCompress(text, "xz"), packed)
}
