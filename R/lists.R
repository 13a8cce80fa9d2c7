#' Each word of a list, hardest first
#'
#' Tells for each secret word, code or number how often it is found and how long that takes: which are too hard, which
#' too easy, and which have a twin that differs in one letter.
#'
#' @inheritParams odds
#' @param by What is secret, as an expression of the rules language; by default the first thing remembered that nobody
#'   sees.
#' @param measure Measures, as texts; by default how often the first outcome comes up, and the mean of the first
#'   record that
#'   is a number. Means and probabilities only.
#' @param keep The least and the greatest value of the first measure: the secrets within are told as `kept`.
#' @param rounds How many rounds to sample; by default 20 000, or 50 for each word of the lists where that is more.
#' @return An object of class `basanos_list`: a list with `rows`, a data frame with one row a secret, in ascending order
#'   of the first measure (of a probability to win: the hardest first): `secret`, `times`, for each
#'   measure `value_k`, `lower_k`, `upper_k` (95%), and `twins`, the
#'   secrets that differ from it in one letter (of words); `kept` with `keep`; `measure`, `by`, `rounds`, `seed`.
#' @inheritSection odds Stopped
#' @section Formulas: Shares have Wilson's interval, means the normal one with t quantiles. Where nothing but the secret
#'   is drawn each value is certain, and its interval is the value.
#' @section Errors: `list_secret`, `measure_wrong`, those of [odds()].
#' @export
#' @examples
#' secret_odds("tide-words", rounds = 200)
secret_odds <- function(game, set = list(), players = list(), mode = NULL, measure = NULL, by = NULL, keep = NULL,
                        rounds = NULL, seed = 1) {
  call <- asked_here("secret_odds")
  game <- game_with(game, set)
  seed <- given_seed(seed)
  if (!is.null(rounds)) check_rounds(rounds)
  by <- if (is.null(by)) usual_secret(game) else one_text(by, "by")
  measure <- if (is.null(measure)) usual_list_measures(game) else measure
  if (program_span(game) != "round")
    abort_input("list_secret", "Secrets are compared round by round, and the rounds of this game belong together.",
                "leave match and sitting out of the rules")
  asked <- with_measures(question_of(game), c(measure, sprintf("mean(%s)", by)))
  wrong <- Filter(function(m) !m$word %in% c("mean", "probability"), asked$measures)
  if (length(wrong) > 0)
    abort_input("measure_wrong", sprintf("`%s` is not told word by word.", wrong[[1]]$text),
                "ask for means and probabilities")
  side <- round_by_round(with_choices(asked, set, players, mode))
  rounds <- if (is.null(rounds)) max(2e4, 50 * most_listed(game)) else rounds
  listed <- function(units, stopped = NULL) {
    rows <- rows_by_secret(asked, units$records, measure, length(side$program$sources) == 1)
    kept <- if (!is.null(keep)) rows$secret[rows$value_1 >= check_keep(keep)[[1]] & rows$value_1 <= keep[[2]]]
    structure(list(game = name_of_file(game$source), title = game$title, by = by, measure = measure, rows = rows,
                   keep = keep, kept = kept, players = Filter(Negate(is.na), as.list(side$program$players)),
                   rounds = nrow(units$records), seed = seed, stopped = stopped), class = result_class("list"))
  }
  so_far <- function(stop) if (NROW(stop$rows) > 0)
    list(list = listed(table_of_units(side, stop$rows), stop$after)) else list()
  with_call(listed(with_part_result(unit_table(side, seed, 1, rounds), so_far)), call)
}

check_keep <- function(keep) {
  if (is.numeric(keep) && length(keep) == 2 && !anyNA(keep) && keep[[1]] <= keep[[2]]) return(keep)
  abort_input("argument_wrong", "`keep` is two numbers, the lower first.", "write keep = c(0.6, 0.9) (--keep 60%..90%)")
}

usual_secret <- function(game) {
  for (part in game$state) {
    type <- part$variable$type
    if (isTRUE(part$hidden) || is_collection(type) || is_kind(type, "each") || !is_plain(type)) next
    if (identical(part$variable$seen_by, "nobody") || identical(part$variable$seen_by, 0)) return(part$name)
  }
  abort_input("list_secret", "Nothing in these rules is hidden from everybody.",
              "say what is secret, as in by = \"secret\" (--by ...)")
}

usual_list_measures <- function(game) {
  c(sprintf("probability(outcome == %s)", game$outcomes$names[[1]]),
    first_number_recorded(game))
}

most_listed <- function(game) {
  lists <- Filter(function(d) identical(d$kind, "words"), game$names)
  of_secret <- vapply(lists, function(d) length(d$ids), 1L)
  if (length(of_secret) == 0) 0 else min(of_secret)
}

rows_by_secret <- function(question, table, measure, one_draw) {
  n <- length(measure)
  column <- function(k) table[, paste("record", record_of_measure(k))]
  secret <- column(n + 1)
  type <- question$records[[record_of_measure(n + 1)]]$node$type
  ids <- sort(unique(secret))
  rows <- list(secret = vapply(ids, value_text, "", rules = question$game, type = type),
               times = as.vector(table(factor(secret, levels = ids))))
  split_by_secret <- function(k) split(column(k), factor(secret, levels = ids))
  decided <- one_draw && all(vapply(seq_len(n), function(k)
    all(vapply(split_by_secret(k), function(x) all(x == x[[1]]), NA)), NA))
  for (k in seq_along(measure)) {
    share <- question$measures[[k]]$word == "probability"
    stats <- lapply(split_by_secret(k), if (decided) value_of_secret else if (share) share_of_secret
                    else mean_of_secret)
    for (part in c("value", "lower", "upper")) rows[[sprintf("%s_%d", part, k)]] <- vapply(stats, `[[`, 0, part)
  }
  if (is_kind(type, "word") && !any(grepl(" ", rows$secret, fixed = TRUE))) rows$twins <- twins_of(rows$secret)
  table <- list2DF(lapply(rows, unname))
  by <- c(list(table$value_1), if (n > 1) list(-table$value_2), list(table$secret))
  table <- table[do.call(order, by), ]
  rownames(table) <- NULL
  table
}

# If only the secret is drawn, one round is enough.
value_of_secret <- function(x) list(value = x[[1]] + 0, lower = x[[1]] + 0, upper = x[[1]] + 0)

share_of_secret <- function(x) {
  interval <- wilson_interval(sum(x != 0), length(x))
  list(value = mean(x != 0), lower = interval$lower, upper = interval$upper)
}

mean_of_secret <- function(x) {
  room <- if (length(x) > 1) stats::qt(0.975, length(x) - 1) * stats::sd(x) / sqrt(length(x)) else NA_real_
  list(value = mean(x), lower = mean(x) - room, upper = mean(x) + room)
}

# The others of the same length that differ in one letter, with commas between: two words are twins where they are the
# same with one letter left open.
twins_of <- function(words) {
  open <- lapply(words, function(word) {
    k <- seq_len(nchar(word))
    paste0(substring(word, 1, k - 1), "?", substring(word, k + 1))
  })
  together <- split(rep(seq_along(words), lengths(open)), unlist(open))
  pairs <- do.call(rbind, lapply(Filter(function(group) length(group) > 1, together), function(group)
    expand.grid(word = group, twin = group)))
  twins <- character(length(words))
  if (is.null(pairs)) return(twins)
  pairs <- pairs[pairs$word != pairs$twin, ]
  named <- tapply(words[pairs$twin], pairs$word, function(t) paste(sort(unique(t)), collapse = ", "))
  twins[as.integer(names(named))] <- named
  twins
}

most_secrets_shown <- 20

#' @export
sections.basanos_list <- function(x, ...) {
  r <- x$rows
  shown <- if (nrow(r) <= 2 * most_secrets_shown) seq_len(nrow(r))
    else c(seq_len(most_secrets_shown), nrow(r) - (most_secrets_shown / 2 - 1):0)
  shown_rows <- r[shown, ]
  cells <- list(secret = shown_rows$secret, times = whole_text(shown_rows$times))
  for (k in seq_along(x$measure)) {
    share <- startsWith(x$measure[[k]], "probability")
    number <- function(v) if (share) percent_text(v, 1L) else fixed_text(v, 2)
    cells[[x$measure[[k]]]] <- number(shown_rows[[sprintf("value_%d", k)]])
    cells[[paste0("95% interval", strrep(" ", k - 1))]] <-
      interval_text(shown_rows[[sprintf("lower_%d", k)]], shown_rows[[sprintf("upper_%d", k)]], number)
  }
  if (any(nzchar(r[["twins"]])))
    cells$twins <- ifelse(nchar(shown_rows$twins) > 40, paste0(substr(shown_rows$twins, 1, 37), "..."),
                          shown_rows$twins)
  players <- if (length(x$players) > 0) sprintf(", played by %s", paste(unlist(x$players), collapse = ", ")) else ""
  between <- length(shown) < nrow(r)
  part <- function(rows) lapply(cells, `[`, rows)
  all_sections(
    section(sprintf("%s: %s by `%s`, the %s first%s", title_of(x), count_text(nrow(r), "secret"), x$by,
                    if (startsWith(x$measure[[1]], "probability")) "hardest" else paste("lowest",
                                                                                        x$measure[[1]]), players)),
    if (between) list(section(table = part(seq_len(most_secrets_shown))),
                      section(sprintf("The last, with %s between (--format csv has all):",
                                      whole_text(nrow(r) - length(shown))), part(-seq_len(most_secrets_shown))))
    else section(table = cells),
    if (!is.null(x$keep))
      section(notes = sprintf("%s of these: %s from %s to %s.", count_text(length(x$kept), "secret"), x$measure[[1]],
                              plain_number(x$keep[[1]]), plain_number(x$keep[[2]]))),
    section(notes = sprintf("Sampled: %s rounds, seed %s.", whole_text(x$rounds), plain_number(x$seed))))
}

#' @export
as.data.frame.basanos_list <- function(x, ...) {
  r <- x$rows
  bind_result_rows(lapply(seq_along(x$measure), function(k)
    result_rows(x, "measure", x$measure[[k]], r[[sprintf("value_%d", k)]], r$secret,
                lower = r[[sprintf("lower_%d", k)]], upper = r[[sprintf("upper_%d", k)]],
                r[intersect(c("times", "twins"), names(r))], engine = "sample")))
}

#' @export
json_fields.basanos_list <- function(x)
  c(x[c("game", "by", "measure", "rows")], list(kept = if (!is.null(x$keep)) as.list(x$kept)),
    x[c("players", "rounds", "seed")])
