# How numbers of odds are written.


test_that("sampled numbers have no digits beyond what is known", {
  expect_identical(one_in(c(0.5, 8e-5, 0), c(0.01, 2.8e-5, 0)), c("2.00", "12500", "never"))
  expect_identical(one_in(1 / 105216, 3.4e-6), "105000")
  expect_identical(one_in(c(0.04, 0.001)), c("25.00", "1000"))  # counted exactly
  expect_identical(known_percent(c(0.25, 1e-3), c(0.012, 3e-4), 4), c("25.0%", "0.100%"))
  expect_identical(plain_numbers(c(20, 1.5, NA)), c("20", "1.5", "NA"))
  lines <- format(odds("moon-wheel", engine = "sample", rounds = 3000))
  expect_match(lines, "^rounds .* 31 +40$|^  rounds .* 31 +40$", all = FALSE)
  expect_match(lines, "put_on +1 +0.000 +- +1 +1$", all = FALSE)
  par <- format(par_table("lantern-tiles", engine = "sample", rounds = 3000))
  expect_match(par, "guest_high +[+]1 +29.97% +0.84% +3.34 +59.9% +25.26%", all = FALSE)
  expect_match(par, "return 106.5%", all = FALSE)
})
