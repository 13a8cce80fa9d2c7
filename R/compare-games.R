# Two games, or one game in two ways, on the same luck: each source of chance has its own stream, so what both
# draw from a die of the same name is the same, unit by unit.

#' Compare two games on the same luck
#'
#' Plays both on the same streams of chance, so that most of what is luck cancels out of the
#' difference; or, with [same_play()], looks for the first place where they differ.
#'
#' @inheritParams sample_tally
#' @param old,new Two games: see [game()]. They may be the same one, with other settings or players.
#' @param set_new,players_new Settings and players of `new` only, besides `set` and `players`.
#' @param engine `"auto"`: counted exactly where that is quick for both, else sampled; or `"sample"`.
#' @param measure Measures to compare as well, as texts: see [measures()].
#' @return An object of class `basanos_comparison`: a list with `rows`, a data frame with `kind`, `name`, `old`,
#'   `new`, `difference`, and sampled `standard_error`, `lower`, `upper` of the difference and `gain`: how many
#'   times the rounds two separate runs would need for that; `changes`, what is different in the rules, in words;
#'   `engine`, `rounds`, `seed`, `names`.
#' @inheritSection odds Stopped
#' @section Formulas: The standard error is that of the paired differences by unit; of matches and sittings that
#'   of the difference of two ratios of sums over units. Interval of a difference of shares: Tango (1998), "Equivalence
#'   test and confidence interval for the difference in proportions for the paired-sample design"; of a difference of
#'   means: corrected for skewness as in [odds()], with room for differences that were not seen. Where no unit
#'   differed and nothing says by how much one could, it is missing.
#' @section Errors: Those of [sample_tally()].
#' @export
#' @examples
#' compare_games("lantern-tiles", "lantern-tiles", rounds = 1e4, set_new = list(keeper_stands = 17))
compare_games <- function(old, new, set = list(), players = list(), mode = NULL, set_new = list(),
                          players_new = list(), measure = NULL, engine = c("auto", "sample"), rounds = 1e5,
                          seed = 1) {
  asked <- asked_here("compare_games")
  engine <- one_of_names(engine[[1]], c("auto", "sample"), "engine_unknown", "engine")
  check_rounds(rounds)
  seed <- given_seed(seed)
  sides <- two_sides(old, new, set, players, mode, set_new, players_new, measure)
  exact <- if (engine == "auto") lapply(sides, exact_side)
  counted <- !is.null(exact) && !any(vapply(exact, is.null, NA))
  if (counted) return(with_call(comparison_result(sides, exact_differences(exact)), asked))
  tables <- paired_tables(sides, rounds, seed)
  of_rounds <- function(tables) paired_differences(tables, length(tables[[1]]$rounds))
  measured <- with_part_result(paired_measures(sides, tables, rounds, seed), function(stop)
    list(comparison = comparison_result(sides, of_rounds(tables), rounds, seed, "the rounds, before the measures")))
  with_call(comparison_result(sides, rbind(of_rounds(tables), measured), rounds, seed), asked)
}

# Counted exactly where no rounds are given.
comparison_result <- function(sides, rows, rounds = NULL, seed = NULL, stopped = NULL) {
  structure(list(names = vapply(sides, `[[`, "", "name"), engine = if (is.null(rounds)) "exact" else "sample",
                 rounds = rounds, seed = seed, unit = sides[[1]]$program$unit,
                 players = lapply(sides, function(side) as.list(side$program$players[!is.na(side$program$players)])),
                 changes = rule_changes(sides[[1]]$rules, sides[[2]]$rules), rows = rows, stopped = stopped),
            class = result_class("comparison"))
}

parts_of_comparison <- 50

# The same rounds of both, a part of them at a time: where it is stopped, what both have played is compared.
paired_tables <- function(sides, rounds, seed) {
  size <- max(100, ceiling(rounds / parts_of_comparison))
  firsts <- seq(1, rounds, by = size)
  joined <- function(parts) lapply(seq_along(sides), function(k)
    table_of_units(sides[[k]], do.call(rbind, lapply(parts, `[[`, k))))
  so_far <- function(parts, after, stop) {
    parts <- Filter(Negate(is.null), parts)
    if (length(parts) == 0) return(list())
    tables <- joined(parts)
    played <- length(tables[[1]]$rounds)
    after <- sprintf("%s of %s %s", whole_text(played), whole_text(rounds), units_in_words(sides[[1]]$program$unit))
    list(after = after, comparison = comparison_result(sides, paired_differences(tables, played), played, seed, after))
  }
  joined(worked_out(firsts, what = "parts of the rounds", so_far = so_far, work = function(first)
    lapply(sides, function(side)
      run_units(side$question$game, side$program, seed, first, min(rounds, first + size - 1))$rows)))
}

# The question with its program, to be told round by round, pays like records.
round_by_round <- function(question) {
  question$by_round <- TRUE
  list(question = question, program = program_of(question))
}

# Each side: list(question, program, rules, name); `rules` are those of the file.
two_sides <- function(old, new, set, players, mode, set_new, players_new, measure = NULL) {
  side <- function(rules, set, players, is_new) {
    rules <- game(rules)
    asked <- with_measures(question_of(game_with(rules, set)), measure)
    side <- round_by_round(with_choices(asked, set, players, mode))
    changed <- if (is_new)
      c(unlist(Map(function(n, v) paste(n, "=", v), names(set_new), set_new)),
        unlist(Map(function(n, v) paste(n, "=", v), names(players_new), players_new)))
    name <- c(name_of_file(rules$source), if (length(changed) > 0) sprintf("(%s)", paste(changed, collapse = ", ")))
    c(side, list(rules = rules, name = paste(name, collapse = " ")))
  }
  list(side(old, set, players, FALSE),
       side(new, utils::modifyList(as.list(set), as.list(set_new)),
            utils::modifyList(as.list(players), as.list(players_new)), TRUE))
}

# The quantities of a program, in their order: seats' pays, then records.
measured_names <- function(program) {
  is_shown <- function(r) !is_named_value(r) && !is_added(r)
  list(kind = c(rep("pay", length(program$pays)), rep("record", length(program$records))),
       name = c(vapply(program$pays, `[[`, "", "seat"), names(program$records)),
       number = c(rep(TRUE, length(program$pays)), vapply(program$records, is_shown, NA)))
}

exact_side <- function(side) {
  run <- run_exact_quickly(side$question$game, side$program)
  if (!run$complete) return(NULL)
  measured <- measured_names(side$program)
  means <- vapply(run$quantities[seq_along(measured$name)], function(q) sum(q$value * q$weight) / sum(q$weight), 0)
  rows <- rbind(data.frame(kind = "outcome", name = side$program$outcomes, value = run$outcomes / run$rounds),
                if (length(means) > 0)
                  data.frame(kind = measured$kind, name = measured$name, value = means)[measured$number, ])
  if (length(side$question$measures) == 0) return(rows)
  measures <- as_odds(new_tally(side$question, side$program, "exact", exact_counts(run)))$measures
  rbind(rows, data.frame(kind = "measure", name = measures$name, value = measures$value))
}

exact_differences <- function(exact) {
  rows <- merge(exact[[1]], exact[[2]], by = c("kind", "name"), all = TRUE, sort = FALSE, suffixes = c("_old", "_new"))
  rows <- rows[order(match(paste(rows$kind, rows$name), paste(exact[[1]]$kind, exact[[1]]$name)),
                     match(rows$kind, c("outcome", "pay", "record", "measure"))), ]
  absent <- function(x, kind) ifelse(is.na(x) & kind == "outcome", 0, x)  # an outcome that one of them does not have
  old <- absent(rows$value_old, rows$kind)
  new <- absent(rows$value_new, rows$kind)
  data.frame(kind = rows$kind, name = rows$name, old = old, new = new, difference = new - old)[!is.na(new - old), ]
}

paired_differences <- function(tables, rounds) {
  names <- union(colnames(tables[[1]]$values), colnames(tables[[2]]$values))
  both <- names %in% colnames(tables[[1]]$values) & names %in% colnames(tables[[2]]$values)
  shown <- names[both | startsWith(names, "outcome ")]
  do.call(rbind, lapply(shown, paired_row, tables = tables, rounds = rounds))
}

# One quantity of both, unit by unit.
paired_row <- function(name, tables, rounds) {
  parts <- lapply(tables, function(t) {
    x <- if (name %in% colnames(t$values)) t$values[, name] else numeric(length(t$rounds))
    ends <- if (is.null(t$ends[[name]])) c(0, 1) else t$ends[[name]]
    list(x = x, mean = sum(x) / sum(t$rounds), off = (x - sum(x) / sum(t$rounds) * t$rounds) / mean(t$rounds),
         ends = ends)
  })
  apart <- sqrt(sum(vapply(parts, function(p) stats::var(p$off), 0)) / rounds)
  off <- parts[[2]]$off - parts[[1]]$off
  error <- stats::sd(off) / sqrt(rounds)
  difference <- parts[[2]]$mean - parts[[1]]$mean
  all_rounds <- unlist(lapply(tables, `[[`, "rounds"))
  interval <- difference_interval(parts, off, difference, error, rounds, max(all_rounds), mean(all_rounds))
  data.frame(kind = sub(" .*", "", name), name = sub("^[a-z]+ ", "", name), old = parts[[1]]$mean,
             new = parts[[2]]$mean,
             difference = difference, standard_error = error, interval, gain = (apart / error)^2)
}

# The interval of a difference of means, with room for differences that were not seen. Where units of one round differ
# by one amount only, up or down, it is the interval of two paired shares; otherwise it is corrected for skewness. Of
# units of several rounds, whose ends are those of all rounds going one way, there is room only where few units decide.
difference_interval <- function(parts, off, difference, error, n, most_rounds, mean_rounds) {
  ends <- c(parts[[2]]$ends[[1]] - parts[[1]]$ends[[2]], parts[[2]]$ends[[2]] - parts[[1]]$ends[[1]])
  if (most_rounds > 1) ends <- ends * most_rounds / mean_rounds  # as the difference, for a round
  by <- parts[[2]]$x - parts[[1]]$x
  amount <- unique(abs(by[by != 0]))
  if (length(amount) == 0) amount <- max(abs(ends))
  if (most_rounds == 1 && length(amount) == 1 && is.finite(amount)) {
    interval <- lapply(paired_share_interval(sum(by > 0), sum(by < 0), n), `*`, amount)
    return(with_unseen(interval, difference, c(-1, 1) * amount, ends, n))
  }
  sd <- stats::sd(off)
  skewness <- if (isTRUE(sd > 0)) mean(((off - mean(off)) / sd)^3) else 0
  interval <- mean_interval(difference, error, skewness, n)
  if (most_rounds > 1 && deciding_units(difference + off) >= least_deciding) return(interval)
  with_unseen(interval, difference, difference + range(off), ends, n)
}

# Unit by unit: the rounds, a hash of them in order, and a column for each outcome, pay and record that is a number.
unit_table <- function(side, seed, first, last)
  table_of_units(side, run_units(side$question$game, side$program, seed, first, last)$rows)

table_of_units <- function(side, rows) {
  measured <- measured_names(side$program)
  outcomes <- length(side$program$outcomes)
  values <- rows[, 1 + seq_len(outcomes + length(measured$name)), drop = FALSE]
  colnames(values) <- c(sprintf("outcome %s", side$program$outcomes), sprintf("%s %s", measured$kind, measured$name))
  ends <- c(lapply(side$program$pays, `[[`, "ends"), lapply(side$program$records, `[[`, "ends"))
  names(ends) <- sprintf("%s %s", measured$kind, measured$name)
  places <- outcomes + length(measured$name) + seq_along(side$program$ledgers)
  of_unit <- rows[, 1 + max(places, outcomes + length(measured$name)) + seq_along(side$program$measures), drop = FALSE]
  colnames(of_unit) <- side$program$measures
  list(rounds = rows[, 1], ends = ends, of_unit = of_unit, ledgers = rows[, 1 + places, drop = FALSE], records = values,
       values = values[, c(rep(TRUE, outcomes), measured$number), drop = FALSE],
       hash = rows[, ncol(rows)])
}

#' @export
sections.basanos_comparison <- function(x, ...) {
  sampled <- x$engine == "sample"
  head <- sprintf("%s against %s: %s", x$names[[2]], x$names[[1]],
                  if (sampled)
                    sprintf("%s %s on the same luck, seed %s", whole_text(x$rounds), units_in_words(x$unit),
                            plain_number(x$seed)) else "both counted exactly")
  percent <- x$rows$kind == "outcome"
  digits <- if (sampled)
    ifelse(percent, vapply(100 * x$rows$standard_error, error_digits, 1L),
           vapply(x$rows$standard_error, error_digits, 1L)) else ifelse(percent, 4L, 5L)
  number <- function(v, sign = FALSE) ifelse(percent, percent_text(v, digits, sign), fixed_text(v, digits, sign))
  cells <- list("of a round" = paste(x$rows$kind, x$rows$name), old = number(x$rows$old), new = number(x$rows$new),
                difference = number(x$rows$difference, TRUE))
  if (sampled)
    cells <- c(cells,
               list("95% interval" = interval_text(x$rows$lower, x$rows$upper, function(v) number(v, TRUE)),
                    "shared luck saves" = ifelse(is.na(x$rows$standard_error), "-",
                                                 ifelse(is.finite(x$rows$gain), sprintf("%.1f times", x$rows$gain),
                                                                     "all"))))
  all_sections(section(head),
               if (length(x$changes) > 0) section("What changed in the rules:", notes = paste0("  ", x$changes)),
               section(table = cells), section(notes = compared_players(x)))
}

# The players of both games, or of each if they differ.
compared_players <- function(x) {
  if (identical(x$players[[1]], x$players[[2]])) return(players_line(x$players[[1]]))
  unlist(Map(function(players, name) if (length(players) > 0) sprintf("%s: %s.", name, who_plays(players)), x$players,
             x$names))
}

#' @export
json_fields.basanos_comparison <- function(x) unclass(x)

#' @export
as.data.frame.basanos_comparison <- function(x, ...) {
  r <- x$rows
  result_rows(list(game = x$names[[2]], engine = x$engine), r$kind, r$name, r$difference, NA_character_,
              standard_error = r$standard_error, lower = r$lower, upper = r$upper,
              r[intersect(c("old", "new", "gain"), names(r))], old_game = x$names[[1]])
}
