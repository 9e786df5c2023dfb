# Writes completion for bash and zsh and the man page, from the specs of verbs and options, into a
# folder: Rscript tools/command.R FOLDER
folder <- commandArgs(TRUE)[1L]
dir.create(folder, recursive = TRUE, showWarnings = FALSE)
writeLines(softsieve:::completion_bash(), file.path(folder, "softsieve.bash"))
writeLines(softsieve:::completion_zsh(), file.path(folder, "_softsieve"))
writeLines(softsieve:::man_page(), file.path(folder, "softsieve.1"))
