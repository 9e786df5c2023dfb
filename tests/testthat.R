library(testthat)
library(softsieve)
test_check("softsieve")
