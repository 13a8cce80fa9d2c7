# Rules are R syntax, so R itself is an oracle for play without chance: random programs must leave the
# same numbers in basanos, compiled and optimised, as R leaves by evaluating the text.

random_program <- function() {
  one_of <- function(...) { x <- list(...); x[[sample.int(length(x), 1)]] }
  names <- c("a", "b", "d")
  depth <- 0
  deeper <- function(make, leaf) {
    if (depth > 3 || stats::runif(1) < 0.25) return(leaf())
    depth <<- depth + 1
    on.exit(depth <<- depth - 1)
    make()
  }
  number <- function() deeper(function() switch(sample.int(11, 1),
    sprintf("(%s + %s)", number(), number()), sprintf("(%s - %s)", number(), number()),
    sprintf("(%s * %s) %%%% 97", number(), number()),
    sprintf("(%s) %%/%% %d", number(), sample(c(-3, 2, 5), 1)), sprintf("max(%s, %s)", number(), number()),
    sprintf("min(%s, %s)", number(), number()),
    sprintf("sum(c(%s, %s, %s))", number(), number(), number()), sprintf("min(c(%s, %s))", number(), number()),
    sprintf("abs(%s)", number()), sprintf("(if (%s) %s else %s)", truth(), number(), number()),
    sprintf("%s(%s, %s)", one_of("mix", "steps"), number(), number())),
    function() one_of(sample(names, 1), as.character(sample(-4:9, 1))))
  truth <- function() deeper(function() switch(sample.int(4, 1),
    sprintf("(%s && %s)", truth(), truth()), sprintf("(%s || %s)", truth(), truth()), sprintf("!(%s)", truth()),
    compare()), compare)
  compare <- function() sprintf("%s %s %s", number(), one_of("==", "!=", "<", "<=", ">", ">="), number())
  small <- function(text) sprintf("(%s) %%%% 1000", text)
  loops <- 0
  statement <- function(in_loop = FALSE) deeper(function() switch(sample.int(6, 1),
    sprintf("if (%s) { %s } else { %s }", truth(), block(in_loop), block(in_loop)),
    sprintf("if (%s) { %s }", truth(), block(in_loop)),
    {
      loops <<- loops + 1
      i <- paste0("i", loops)
      sprintf("for (%s in %d:%d) { %s\n a <- %s }", i, sample(-1:2, 1), sample(2:4, 1), block(TRUE),
              small(sprintf("a + %s", i)))
    },
    {
      loops <<- loops + 1
      n <- paste0("n", loops)
      sprintf("%s <- 0\n while (%s < %d && %s) { %s <- %s + 1\n %s }", n, n, sample(1:4, 1), truth(), n, n,
              block(FALSE))
    },
    {
      loops <<- loops + 1
      n <- paste0("n", loops)
      sprintf("%s <- 0\n repeat { %s <- %s + 1\n if (%s > %d || %s) break\n %s }", n, n, n, n, sample(1:4, 1), truth(),
              block(FALSE))
    },
    if (in_loop) sprintf("if (%s) %s", truth(), one_of("next", "break")) else assign_one()), assign_one)
  assign_one <- function() { v <- sample(names, 1); sprintf("%s <- %s", v, small(number())) }
  block <- function(in_loop) paste(replicate(sample(1:2, 1), statement(in_loop)), collapse = "\n ")
  list(functions = c("mix <- function(x, y) if (x > y) x - y else (x + 2 * y) %% 31",
                     paste0("steps <- function(x, y) {\n  total <- 0\n  for (k in 1:3) {\n    if (total > y) ",
                            "return(total)\n    total <- total + (x + k) %% 7\n  }\n  x <- total - 1\n  mix(x, ",
                            "y)\n}")),
       play = paste(replicate(4, statement()), collapse = "\n"))
}

by_r <- function(program) {
  e <- new.env(parent = baseenv())
  for (f in program$functions) eval(parse(text = f), e)
  eval(parse(text = paste("a <- 3; b <- -2; d <- 5\n", program$play)), e)
  unlist(mget(c("a", "b", "d"), envir = e), use.names = FALSE)
}

by_basanos <- function(program, engine) {
  g <- game_of("seats(guest)", "state(a = 3, b = -2, d = 5)", program$functions, "play({", program$play, "})",
               "outcomes(over = otherwise)", "record(a = a, b = b, d = d)")
  odds(g, engine = engine, rounds = 1)$records$mean
}

test_that("random programs without chance do what R does", {
  withr_seed <- if (exists(".Random.seed", globalenv())) get(".Random.seed", globalenv())
  on.exit(if (!is.null(withr_seed)) assign(".Random.seed", withr_seed, globalenv()))
  set.seed(20261123)
  for (k in 1:60) {
    program <- random_program()
    truth <- by_r(program)
    expect_equal(by_basanos(program, "sample"), truth, info = program$play)
    expect_equal(by_basanos(program, "exact"), truth, info = program$play)
  }
})
