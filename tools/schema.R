# Schemas of study files (from the registry) and of solution files, written anew.
write_schema <- function(schema, file) {
  text <- jsonlite::toJSON(schema, auto_unbox = TRUE, digits = NA, null = "null")
  writeLines(text, file.path("inst/schema", file))
}
write_schema(softsieve:::study_schema(), "study.schema.json")
write_schema(softsieve:::solution_schema(), "solution.schema.json")
