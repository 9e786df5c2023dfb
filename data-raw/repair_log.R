# Makes the second demo table: the workshop log of a repair cafe, one row for each Saturday.
# All of it is made up here, from the values below and a fixed seed: how busy a day is (with a
# memory from week to week), how hard its repairs are, and the season.
# Run from the package root: Rscript data-raw/repair_log.R

set.seed(20261130)
days <- 208L
date <- seq(as.Date("2022-01-08"), by = "week", length.out = days)

remembered <- function(n, memory) {
  x <- stats::rnorm(n)
  for (i in seq_len(n)[-1L]) x[i] <- memory * x[i - 1L] + sqrt(1 - memory^2) * x[i]
  x
}
season <- sin(2 * pi * (as.numeric(format(date, "%j")) - 110) / 365.25)
busy <- remembered(days, 0.5) - 0.3 * season
hard <- remembered(days, 0.3)
own <- function(size) size * stats::rnorm(days)

temperature <- round(11 + 9 * season + own(2.5), 1)
humidity <- round(68 - 9 * season + own(6))
visitors <- pmax(5, round(42 + 11 * busy + own(5)))
cups <- pmax(0, round(1.3 * visitors + own(9)))
repairs <- pmax(2, round(24 + 6.5 * busy - 2.5 * hard + own(3)))
minutes <- pmax(60, round(24 * repairs + 130 * hard + own(70)))
parts <- pmax(0, round(38 + 9 * busy + 17 * hard + own(11), 2))
kilograms <- pmax(1, round(2.1 * repairs + 6 * busy + own(9), 1))
tools_broken <- stats::rpois(days, exp(0.1 + 0.35 * hard))

repair_log <- tibble::tibble(day = date, temperature, humidity, visitors, cups, repairs, minutes,
  parts, kilograms, tools_broken)
# nobody wrote down how many cups there were, and the hygrometer was in repair
repair_log$cups[c(31, 32, 101)] <- NA
repair_log$humidity[60:63] <- NA
attr(repair_log$temperature, "label") <- "Temperature in the workshop at noon (degrees Celsius)"
attr(repair_log$humidity, "label") <- "Relative humidity at noon (per cent)"
attr(repair_log$visitors, "label") <- "People who came"
attr(repair_log$cups, "label") <- "Cups of coffee and tea"
attr(repair_log$repairs, "label") <- "Things repaired"
attr(repair_log$minutes, "label") <- "Minutes at the workbenches, all together"
attr(repair_log$parts, "label") <- "Spare parts used (euros)"
attr(repair_log$kilograms, "label") <- "Weight of what was repaired (kilograms)"
attr(repair_log$tools_broken, "label") <- "Tools that broke"
save(repair_log, file = "data/repair_log.rda", version = 2, compress = "xz")
plain <- lapply(repair_log, function(x) `attr<-`(x, "label", NULL))
utils::write.csv(as.data.frame(plain), "inst/extdata/repair_log.csv", row.names = FALSE, na = "")
