# Packs inst/catalogue/*.yml, which people edit, into the files of the same names that are installed
# (.Rinstignore): Rscript tools/catalogue.R. tools/install.sh calls it; a test holds the two
# together.
bytes_of <- function(file) readBin(file, "raw", file.size(file))
for (file in list.files("inst/catalogue", "[.]yml$", full.names = TRUE)) {
  packed <- paste0(file, ".xz")
  text <- bytes_of(file)
  if (file.exists(packed) && identical(memDecompress(bytes_of(packed), "xz"), text)) next
  writeBin(memCompress(text, "xz"), packed)
}
