# The numbers of before are the numbers of after.

test_that("every result on the demo data and the fixtures is what it was when they were held", {
  held <- jsonlite::read_json(test_path("fixtures", "held.json"), simplifyVector = TRUE)
  calls <- held_calls()
  expect_setequal(names(calls), names(held))
  moved <- function(was, is) {
    if (is.character(is)) return(!identical(is, as.character(was)))
    !isTRUE(all.equal(is, as.numeric(was), tolerance = 1e-6))
  }
  for (name in names(held)) {
    was <- held[[name]]
    is <- held_form(calls[[name]]())
    differing <- Filter(function(path) moved(was[[path]], is[[path]]), names(was))
    expect_identical(differing, character(), label = paste("what moved in", name))
  }
})
