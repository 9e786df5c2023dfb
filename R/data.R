#' Motives of repair cafe volunteers
#'
#' Made-up answers of 840 volunteers at six neighbourhood repair cafes to a questionnaire about
#' their motives, with what real answers bring along: four items worded in reverse, two that belong
#' to no motive, one that belongs to two, about 3 % missing (blank, or the code 9), and 26 careless
#' people. The population values and the seed are in `data-raw/repair_cafe.R`. The same data are in
#' `system.file("extdata", package = "softsieve")` as CSV files with a study file.
#'
#' @format `repair_cafe`: a tibble with 840 rows: `person` (id), `cafe` (group, six places) and 26
#'   items from 1 (do not agree at all) to 5 (agree fully), 9 for "no answer": `m1` to `m6`
#'   (pleasure in mending), `t1` to `t6` (thrift), `n1` to `n6` (neighbours), `p1` to `p6` (planet;
#'   `p6` is thrift as well), `o1`, `o2` (neither).
#' @source Simulated; no real person answered.
"repair_cafe"

#' @rdname repair_cafe
#' @format `repair_cafe_codebook`: a tibble with one row for each item, as [read_codebook()]
#' returns.
"repair_cafe_codebook"

#' The workshop log of a repair cafe
#'
#' Made-up measurements of 208 Saturdays at one repair cafe: rows are days, columns are quantities
#' in different units. Days follow each other, so that neighbouring days are alike, and two columns
#' go with the season. Seven values are missing. The values behind it and the seed are in
#' `data-raw/repair_log.R`; `system.file("extdata", "repair_log.csv", package = "softsieve")` is the
#' same as a file.
#'
#' @format A tibble with 208 rows: `day` (date), `temperature` (degrees Celsius), `humidity` (per
#'   cent), `visitors`, `cups` (of coffee and tea), `repairs`, `minutes` (at the workbenches),
#'   `parts` (spare parts used, in euros), `kilograms` (weight of what was repaired) and
#'   `tools_broken`.
#' @source Simulated; nobody weighed anything.
"repair_log"
