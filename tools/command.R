# Writes completion for bash and zsh and the man page from the specs: Rscript tools/command.R
dir.create("inst/command", showWarnings = FALSE)
writeLines(softsieve:::completion_bash(), "inst/command/softsieve.bash")
writeLines(softsieve:::completion_zsh(), "inst/command/_softsieve")
writeLines(softsieve:::man_page(), "inst/command/softsieve.1")
