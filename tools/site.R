# Builds the site into site/: Rscript tools/site.R. Without the network: links to other packages'
# pages are left as words.
options(pkgdown.internet = FALSE)
Sys.setenv(R_CLI_NUM_COLORS = "1")
pkgdown::build_site(preview = FALSE, install = FALSE, new_process = FALSE)
