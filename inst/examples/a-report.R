# A study file, what people decide, a run, and its reports.
library(softsieve)

folder <- tempfile("study-")
dir.create(folder)
files <- list.files(system.file("extdata", package = "softsieve"), full.names = TRUE)
file.copy(files, folder)
file <- file.path(folder, "repair_cafe_study.yml")

study <- read_study(file)
study <- change_study(study, factors.replicates = 200, scales.replicates = 100)
study <- decide(study, drop = "o2", why = "about travel, not about mending", who = "the board")
write_study(study)
writeLines(readLines(file))

results <- file.path(folder, "results")
done <- run_study(file, folder = results)
print(done)

# seen the results, a decision more: its numbers stand beside it
named <- decide(done, name = "F1", as = "thrift", why = "its strongest items are about money")
write_study(named, file, defaults = FALSE)
done <- run_study(file, folder = results)
print(subset(done$values$trail, by == "person" & nzchar(why), c("decision", "choice", "who", "why")))

write_report(done, file.path(folder, "report.html"))
write_report(done, file.path(folder, "report.md"))
# a file name that ends in .docx makes a Word document in the style of manuscripts (in 10 seconds)
print(list.files(folder))
