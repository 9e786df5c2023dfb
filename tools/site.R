# Builds the site into site/: Rscript tools/site.R. Without the network: links to other packages'
# pages are left as words.
options(pkgdown.internet = FALSE)
Sys.setenv(R_CLI_NUM_COLORS = "1")
# the README's pictures stay where they are and are copied over below
withCallingHandlers(pkgdown::build_site(preview = FALSE, install = FALSE, new_process = FALSE),
  warning = function(w) {
    if (grepl("Missing images", conditionMessage(w))) invokeRestart("muffleWarning")
  })
dir.create("site/docs/screenshots", recursive = TRUE, showWarnings = FALSE)
pictures <- list.files("docs/screenshots", pattern = "[.]png$", full.names = TRUE)
invisible(file.copy(pictures, "site/docs/screenshots", overwrite = TRUE))
