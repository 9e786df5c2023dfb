# Writes the JSON Schema of study files from the registry: Rscript tools/schema.R
schema <- jsonlite::toJSON(
  softsieve:::study_schema(),
  auto_unbox = TRUE,
  pretty = TRUE,
  digits = NA,
  null = "null"
)
writeLines(schema, "inst/schema/study.schema.json")
