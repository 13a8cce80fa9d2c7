# Adds a round that was played to a file of rounds.

keep_round <- function(path, name, game, table, result, seed, unit) {
  seat <- table$game$seats[[table$people[[1]]]]
  winner <- if (is.null(result$number)) 0L else outcome_winner(game, result$number)
  pay <- pay_of(table, result)
  won <- if (winner > 0) winner == table$people[[1]] else if (is.na(pay)) NA else pay > 0
  row <- data.frame(name = name, game = name_of_file(game$source), hash = table$hash,
                    settings = chosen_text(table$program$settings),
                    players = chosen_text(Filter(Negate(is.na), table$program$players)), seat = seat, seed = seed,
                    unit = unit,
                    outcome = result$outcome, won = won, pay = pay, records = chosen_text(result$records),
                    answers = as.character(jsonlite::toJSON(table$answers, auto_unbox = TRUE)))
  fresh <- !file.exists(path)
  if (!fresh && !identical(names(read_kept(path)), kept_columns)) {  # never add to a file that is something else
    abort_input("kept_wrong", sprintf("`%s` was kept by an earlier version, which kept less.", path),
                "keep these rounds in another file")
  }
  append_lines(utils::capture.output(utils::write.table(row, sep = ",", row.names = FALSE, col.names = fresh,
    qmethod = "double")), path)
}
