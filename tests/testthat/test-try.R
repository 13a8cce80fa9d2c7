test_that("an expression or a function is worked out alone", {
  expect_true(try_expression("lantern-tiles", "is_bust(25)"))
  expect_false(try_expression("lantern-tiles", "is_bust(25)", set = list(aim = 30)))
  expect_equal(try_expression("lantern-tiles", "aim - guest_total / 2 + 7 %/% 2"), 27)
  expect_identical(try_expression("tide-signs", "if (beats(boat, reef)) boat else reef"), "reef")
  expect_identical(try_expression("dice-duel", "leader(score[it])"), "nobody")
})

test_that("the table of signs has the verbs", {
  table <- try_expression("tide-signs", "sign")
  expect_identical(unname(table["reef", "boat"]), "wrecks")
  expect_identical(unname(table["boat", "reef"]), "")
  expect_match(format(table), "reef +draw +wrecks +loses", all = FALSE)
})

test_that("mistakes are placed in the expression, those of a function in the rules", {
  e <- expect_error(try_expression("lantern-tiles", "is_bust(guest_totl)"), class = "basanos_unknown_name")
  expect_match(conditionMessage(e), "expression:1:9.*did you mean `guest_total`")
  for (text in c("is_bust(25", "1 +", "a = 3", "x++", "roll(tile)", "guest_takes()", "tile", "choices", "", "1 2"))
    expect_error(try_expression("lantern-tiles", text), class = "basanos_error", info = text)
  e <- expect_error(try_expression("lantern-tiles", "is_bust(careful == 3)"), class = "basanos_error")
  expect_error(try_expression("lantern-tiles", "7 %/% guest_total"), class = "basanos_division_by_zero")
  expect_error(try_expression("lantern-tiles", 3), class = "basanos_argument_wrong")
})

test_that("on the command line", {
  expect_identical(utils::capture.output(expect_identical(command_main(c("try", "lantern-tiles", "is_bust(25)")), 0L)),
                   "yes")
  expect_identical(utils::capture.output(invisible(command_main(c("try", "lantern-tiles", "aim / 7", "--set",
    "aim=21")))), "3")
  expect_match(utils::capture.output(command_main(c("try", "tide-signs", "sign"))), "outruns", all = FALSE)
  expect_identical(suppressMessages(command_main(c("try", "tide-signs"))), 2L)
})
