library(testthat)
library(basanos)

test_check("basanos")
