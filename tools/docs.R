# Help pages, NAMESPACE and the doors of the core, from the sources: Rscript tools/docs.R
# Tags of statistical standards are read and written nowhere.
for (tag in c("srrstats", "srrstatsNA")) {
  registerS3method("roxy_tag_parse", paste0("roxy_tag_", tag), function(x) roxygen2::tag_value(x),
    envir = asNamespace("roxygen2"))
}
Rcpp::compileAttributes(".")
roxygen2::roxygenise(".", load_code = "installed")
