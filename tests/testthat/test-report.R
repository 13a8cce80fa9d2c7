# The report of a game: its sentences, parts and numbers, and the page in a browser.

skip_if_not_installed("ggplot2")
skip_if_not_installed("htmltools")

tiles <- report_games("lantern-tiles", parts = c("rules", "ends", "what_if", "records", "balance", "check"),
                     what_if = list(keeper_stands = 17:19, "pay(bright)" = 1:2), want = "edge(guest) in 0..10%",
                     knobs = "aim in 23..25", rounds = 2000)

part_of <- function(report, id) Filter(function(p) p$id == id, report$games[[1]]$parts)[[1]]

test_that("the sentences on top have the numbers of the odds", {
  said <- tiles$games[[1]]$headlines
  o <- odds("lantern-tiles")
  expect_lte(length(said), 5)
  expect_match(said[[1]], sprintf("%.2f%% more than is staked", 100 * (o$pays$return - 1)))
  expect_match(said[[1]], "misses 1 of 1 target.*aim = 23 would meet")
  longest <- min(o$distributions$tiles$value[cumsum(o$distributions$tiles$probability) >= 0.95])
  pays <- o$pay_distributions$guest
  expect_match(said[[2]], sprintf("The guest gains in %.2f%% of rounds and comes out even in %.2f%%",
                                  100 * sum(pays$probability[pays$value > 0]),
                                  100 * pays$probability[pays$value == 0]), fixed = TRUE)
  expect_match(said[[3]], sprintf("In 19 rounds of 20: tiles %d or less", longest))
  turned <- odds("lantern-tiles", set = list(aim = 23))$pays$edge - o$pays$edge
  expect_match(said[[4]], sprintf("Turn aim first: from 24 to 23 .* by \\+%.2f points", 100 * turned))
})

test_that("a board of prizes, and what an evening brings, stand on top of the page", {
  lines <- readLines(report_file <- {
    path <- tempfile(fileext = ".md")
    report_games("lantern-tiles", path, parts = "evenings", rounds = 2000)
    path
  })
  o <- odds("lantern-tiles")
  one <- function(name) sprintf("%.2f", 1 / o$outcomes$probability[o$outcomes$name == name])
  board <- grep("^## The prize board", lines)
  expect_length(board, 1)
  expect_lt(board, grep("^## An evening", lines))
  row <- function(name) strsplit(grep(sprintf("^\\| %s ", name), lines, value = TRUE)[[1]], " *\\| *")[[1]][-1]
  expect_identical(row("bright"), c("bright", "the guest has exactly 24 with exactly three tiles", "+2", one("bright")))
  expect_identical(row("tie")[3:4], c("0", one("tie")))
  expect_identical(row("guest bust")[3:4], c("-1", one("guest_bust")))
  evening <- takings(list(game("lantern-tiles")))$rows
  expect_match(lines, "An evening of 48 visits, 480 rounds in all, costs the stall 18.5 tokens", fixed = TRUE,
               all = FALSE)
  expect_match(lines, sprintf("The stall loses in %.0f%% of evenings. A float of %d tokens", 100 * evening$losing,
                              evening$float_needed), fixed = TRUE, all = FALSE)
  expect_match(report_games("dice-duel", parts = "check")$games[[1]]$board$table[["one round in"]],
               sprintf("%.2f", 1 / odds("dice-duel")$outcomes$probability[[3]]), fixed = TRUE, all = FALSE)
})

test_that("the interval of what the stall keeps is that of the first stakes", {
  said <- report_games("bell-cards", parts = "ends", rounds = 2000)$games[[1]]$headlines[[1]]
  edge <- odds("bell-cards", engine = "sample", rounds = 2000, measure = "edge(guest)")$measures
  expect_match(said, sprintf("keeps %.2f%% of what the guest stakes at first (95%% interval %.2f%% to %.2f%%)",
                             100 * edge$value, 100 * edge$lower, 100 * edge$upper), fixed = TRUE)
})

test_that("of a pot that lasts the long run is told as well", {
  said <- report_games("buoy-line", parts = c("ends", "balance"), want = "long_run_edge(guest) at least 10%",
                      knobs = "seed in 2..4")$games[[1]]$headlines
  expect_no_match(report_games("buoy-line", parts = "ends")$games[[1]]$headlines, "first: from")  # nothing is amiss
  expect_match(said[[1]], sprintf("In the long run, .* it keeps %.2f%% of all that is put in[.]$",
                             100 * (1 - odds("buoy-line")$pots$long_run_return)))
  kept <- function(seed) odds("buoy-line", set = list(seed = seed), measure = "long_run_edge(guest)")$measures$value
  expect_match(said, all = FALSE, fixed = TRUE,
               sprintf("seed first: from 3 to 2 moves what the stall keeps in the long run by %+.2f points",
                       100 * (kept(2) - kept(3))))
})

test_that("of a sitting the round is told that ends so, and all its parts are headed alike", {
  bells <- report_games("three-bells", parts = c("rules", "rounds"), rounds = 1000)
  told <- unlist(lapply(part_of(bells, "rounds")$sections, `[[`, "lines"))
  expect_length(grep("^  => ", told), 2)
  expect_match(told, "=> jar emptied; pays spinner", all = FALSE, fixed = TRUE)
  path <- tempfile(fileext = ".md")
  basanos:::write_report(bells, path)
  headings <- grep("^#+ ", readLines(path), value = TRUE)
  expect_setequal(sub(" .*", "", headings), c("#", "##", "###"))
})

test_that("nothing before the details reads like code, and the details have every number", {
  path <- tempfile(fileext = ".html")
  full <- report_games("lantern-tiles", path, want = "edge(guest) in 0..10%", knobs = "keeper_stands in 17..20",
                      rounds = 2000)
  page <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  page <- gsub("<(script|style|svg).*?</\\1>", "", gsub("\n", " ", page), perl = TRUE)
  halves <- strsplit(page, "Details: all numbers", fixed = TRUE)[[1]]
  expect_length(halves, 2)
  said <- gsub("<[^>]*>", " ", halves[[1]])
  expect_no_match(said, "[a-z]_[a-z]|[a-z]\\([a-z]|`|\\bseed\\b|surely ahead|373d698ca4d5bde0")
  for (number in c("3.9352%", "103.858%", "5.81555", "3 110", "careful", "mean_pay(guest)"))
    expect_match(halves[[2]], number, fixed = TRUE)
  expect_match(halves[[1]], "the stall keeps 0 to 10%", fixed = TRUE)
  expect_match(halves[[1]], "What bold loses against careful.*the guest's total is 20, guest tiles is 3")
  expect_match(halves[[1]], "=&gt; bright; pays guest \\+2|=> bright; pays guest \\+2")
})

test_that("a situation is told in the words of the rules, each name once", {
  rules <- game("lantern-tiles")
  rules$in_words <- rules$in_words[order(names(rules$in_words), decreasing = TRUE)]
  told <- situation_words(c("guest_total = 20, guest_tiles = 3, seen by guest", ""),
                          list(game = rules, settings = list()))
  expect_identical(told, c("the guest's total is 20, guest_tiles is 3, seen by the guest", "always"))
})

test_that("the first use of a word of the glossary leads to its meaning", {
  path <- tempfile(fileext = ".html")
  basanos:::write_report(tiles, path)
  page <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  links <- regmatches(page, gregexpr("href=\"#word-[a-z0-9-]+\"", page))[[1]]
  expect_identical(anyDuplicated(links), 0L)
  expect_true("href=\"#word-edge\"" %in% links)
  for (link in links) expect_match(page, sub("href=\"#", "<dt id=\"", link), fixed = TRUE)
  words <- glossary()
  expect_gt(nrow(words), 40)
  expect_match(page, sprintf("<dd>%s</dd>", words$meaning[words$word == "edge"]), fixed = TRUE)
})

test_that("the stall's evening is that of takings, with rounds a visit and seconds a round", {
  report <- report_games("lantern-tiles", parts = "evenings", visits = 30, hours = 2, visit_rounds = 7,
                        round_seconds = 60)
  evening <- takings("lantern-tiles", visits = 30, hours = 2, visit_rounds = 7, round_seconds = 60)$rows
  expect_identical(report$games[[1]]$parts[[1]]$stall$rows, evening)
  expect_match(report$games[[1]]$headlines, sprintf("%s in all", count_text(evening$rounds, "round")), all = FALSE)
  expect_match(report$games[[1]]$made$table[[2]][[1]], "--visits 30 --hours 2 --visit-rounds 7 --round-seconds 60")
})

test_that("a target that cannot be judged is not said to be none", {
  report <- report_games("bell-cards", parts = "ends", want = "edge(guest) in 3%..5%", rounds = 1000)
  expect_match(report$games[[1]]$headlines[[1]], "whether targets are met is not told")
})

test_that("what the page can turn are the odds with these settings", {
  what_if <- part_of(tiles, "what_if")$what_if
  data <- what_if$data
  expect_identical(vapply(data$settings, `[[`, "", "name"), c("keeper_stands", "pay(guest, bright)"))
  expect_length(data$values, 6)
  k <- which(vapply(data$measures, `[[`, "", "name") == "keeper bust")
  for (at in 0:2) {
    o <- odds("lantern-tiles", set = list(keeper_stands = 17 + at))
    expect_equal(data$values[[2 * at + 2]][[1]], o$pays$edge, tolerance = 1e-6)
    expect_equal(data$values[[2 * at + 1]][[k]], o$outcomes$probability[o$outcomes$name == "keeper_bust"],
                 tolerance = 1e-6)
  }
  expect_equal(what_if$today[[1]], odds("lantern-tiles")$pays$edge, tolerance = 1e-6)
  expect_identical(data$settings[[1]]$values[[data$settings[[1]]$now + 1]], "18")
})

test_that("the file's own value is always among those to turn", {
  r <- report_games("lantern-tiles", parts = "what_if", what_if = list(aim = c(20, 30)), rounds = 500)
  s <- part_of(r, "what_if")$what_if
  expect_identical(unlist(s$data$settings[[1]]$values), c("20", "24", "30"))
  expect_equal(s$today[[1]], odds("lantern-tiles")$pays$edge, tolerance = 1e-6)
})

test_that("one page, with nothing from elsewhere, small, and its parts have their places", {
  path <- tempfile(fileext = ".html")
  basanos:::write_report(tiles, path)
  expect_lt(file.size(path), 1e6)
  page <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  addresses <- regmatches(page, gregexpr("(src|href)=\"[^#\"][^\"]*\"", page))[[1]]
  expect_identical(addresses, "href=\"data:,\"")
  expect_false(grepl("@import|url\\([^#]", page))
  expect_match(page, "<article id=\"lantern-tiles\">", fixed = TRUE)
  for (part in parts_shown(tiles$games[[1]]$parts))
    expect_match(page, sprintf("id=\"lantern-tiles-%s\"", part$id), fixed = TRUE)
  expect_match(page, "3.9352%", fixed = TRUE)
  expect_match(page, odds("lantern-tiles")$hash, fixed = TRUE)
})

test_that("the page works in a browser: at any width, without errors, and its sliders turn", {
  path <- tempfile(fileext = ".html")
  basanos:::write_report(tiles, path)
  for (width in c(360, 1280)) {
    seen <- page_seen(path, width)
    expect_length(seen$errors, 0)
    expect_lte(seen$width, width)
    expect_identical(c(seen$dead, seen$twice, seen$unlabelled, seen$headless), c(0L, 0L, 0L, 0L))
    expect_identical(seen$said, "17")
    expect_identical(seen$after[[1]], sprintf("%.2f%%", 100 * odds("lantern-tiles",
                                                                   set = list(keeper_stands = 17))$pays$edge))
    expect_false(identical(seen$before, seen$after))
  }
})

test_that("on paper no table is cut", {
  path <- tempfile(fileext = ".html")
  basanos:::write_report(tiles, path)
  printed <- page_printed(path)
  expect_gt(max(printed$page), 1)
  expect_equal(c(printed$width[[1]], printed$height[[1]]), c(210, 297) / 25.4 * 72, tolerance = 0.005)
  margin <- 13 / 25.4 * 72
  expect_gte(min(printed$left), margin)
  expect_true(all(printed$right <= printed$width - margin))
  expect_gt(length(words_in_tables(path)), 100)
  expect_identical(setdiff(words_in_tables(path), words_of(printed$word)), character())
})

test_that("the command it names makes the same page", {
  made <- tiles$games[[1]]$made$table
  command <- made[["to make this page again"]][made[[1]] == "command"]
  words <- scan(text = sub("^basanos ", "", command), what = "", quiet = TRUE)
  words <- words[-(match("--parts", words) + 0:1)]
  paths <- tempfile(fileext = c(".html", ".html"))
  run <- do.call(at_command_line, as.list(c(words, "--parts", "ends,what-if,balance", "--out", paths[[1]])))
  expect_identical(run$code, 0L)
  expect_identical(run$out, paths[[1]])
  again <- report_games("lantern-tiles", paths[[2]], parts = c("ends", "what_if", "balance"),
                       what_if = list(keeper_stands = 17:19, "pay(bright)" = 1:2), want = "edge(guest) in 0..10%",
                       knobs = "aim in 23..25", rounds = 2000)
  pages <- lapply(paths, function(p) grep("report lantern-tiles", readLines(p), value = TRUE, invert = TRUE))
  expect_identical(pages[[1]], pages[[2]])
})

test_that("as Markdown, with figures beside it", {
  folder <- tempfile()
  dir.create(folder)
  path <- file.path(folder, "tiles.md")
  basanos:::write_report(tiles, path)
  lines <- readLines(path)
  expect_match(lines, "^# Lantern Tiles", all = FALSE)
  expect_match(lines, "| bright | 3.9352% | 25.41 |", all = FALSE, fixed = TRUE)
  shown <- sub(".*\\]\\((.*)\\)$", "\\1", grep("^!\\[", lines, value = TRUE))
  expect_gt(length(shown), 1)
  expect_true(all(file.exists(file.path(folder, shown))))
})

test_that("what does not belong to a game is left out, or says why", {
  signs <- report_games("tide-signs", parts = c("records", "what_if", "evenings", "balance", "players"), rounds = 1000)
  expect_identical(vapply(signs$games[[1]]$parts, `[[`, "", "id"), "players")
  fair <- report_games(c("tide-signs", "dice-duel"), parts = "ends", rounds = 1000)
  expect_identical(fair$fair$table$game, c("Tide Signs", "Dice Duel"))
  page <- basanos:::report_html(fair)
  expect_match(page, "id=\"dice-duel-details\"", all = FALSE, fixed = TRUE)
})

test_that("a list of three settings, a wrong one, and too many are told before long work", {
  expect_error(report_games("lantern-tiles", what_if = c("aim", "high", "low", "keeper_stands"), parts = "what_if"),
               class = "basanos_what_if_wrong")
  expect_error(report_games("lantern-tiles", what_if = "aims", parts = "what_if"), class = "basanos_what_if_wrong")
  expect_error(report_games("lantern-tiles", what_if = list(aim = 1:200, high = 1:5), parts = "what_if"),
               class = "basanos_what_if_wrong")
  expect_error(report_games("lantern-tiles", parts = "ending"), class = "basanos_report_part")
  expect_error(report_games("lantern-tiles", "page.pdf"), class = "basanos_format_unknown")
})

test_that("of a game with a wallet of its own the stall's evening is told all the same", {
  part <- part_of(report_games("moon-wheel", parts = "evenings", rounds = 1000), "evenings")
  titles <- unlist(lapply(part$sections, `[[`, "title"))
  expect_match(titles, "The stall's evening", all = FALSE)
  expect_length(part$figures, 1)
  bells <- part_of(report_games("three-bells", parts = "evenings", rounds = 1000), "evenings")
  expect_match(unlist(lapply(bells$sections, `[[`, "title")), "the evening of spinner", all = FALSE)
  expect_match(unlist(lapply(bells$sections, `[[`, "notes")), "not told here: The rounds .* have no results by ",
               all = FALSE)
})

test_that("in text the first use of a trade word has a link, and none in scripts, drawings and headings", {
  page <- paste0("<body><h2>edge</h2><script>edge</script><svg><text>edge</text></svg><pre>edge</pre><p>the edge, and ",
                 "the edge again, with some volatility</p><p>ruin</p><footer>")
  linked <- with_glossary(page)
  expect_match(linked, "<h2>edge</h2><script>edge</script><svg><text>edge</text></svg><pre>edge</pre><p>the <a ",
               fixed = TRUE)
  expect_match(linked, ">edge</a>, and the edge again", fixed = TRUE)
  expect_match(linked, "<p><a class=\"word\" href=\"#word-ruin\"", fixed = TRUE)
})
