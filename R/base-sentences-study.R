# What running a study tells of itself (base-findings.R).

FINDING_STUDY_STOPPED <- spec(
  name = "study_stopped",
  label = "The study stopped at %s, and kept what was done before. %s",
  order = 0,
  stage = "study",
  severity = "serious",
  meaning = paste(
    "A stage could not go on with what the study asks for. Mend what the sentence names, and run",
    "the study again: stages that still hold are taken from the folder of results."
  )
)
