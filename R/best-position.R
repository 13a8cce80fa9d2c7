# Best play from a position on: what each answer there is worth, where play goes on as well as can be.

# The decision and the conditions of a position, as texts that describe its situations: `me` is the seat that is asked.
# `seats` are those that play as well as can be.
position_for_best <- function(game, text, seats) {
  asked <- read_position(game, text)
  decision <- asked$decision
  if (!any(vapply(seats, function(seat) decision %in% asked_of(game, seat), NA)))
    abort_input("position_none", sprintf("%s is not asked `%s`.", some_of_names(game$seats[seats]), decision),
                "ask for the best play of the seat that decides there")
  conditions <- unname(vapply(split_outside_brackets(asked$where), equality_text, ""))
  list(decision = decision, text = text, conditions = conditions[nzchar(conditions)])
}

# "total = 5" as a condition; what is one already stays.
equality_text <- function(text) sub("^([^=<>!]+?)\\s*=(?!=)", "\\1 ==", text, perl = TRUE)

# list(text, decision, reached, situations, answers): of best play, `reached` is how often a round (or match, sitting)
# comes there. Where it never does, the situations count alike.
position_in_best <- function(task, question, program, run, solution) {
  refuse_unknown_play(run, solution)
  game <- question$game
  position <- task$position
  rows <- do.call(rbind, lapply(solution$seats, function(seat) {
    sign <- solution$objective$sign * (if (seat == solution$seats[[1]]) 1 else -1)
    tables <- lapply(run$policy[sites_of(game, program, seat, position$decision)], rows_at_position, game = game,
                     asked = question$situations[[position$decision]], position = position, sign = sign)
    bind_rows_at(tables, game$seats[[seat]])
  }))
  if (NROW(rows) == 0)
    abort_input("position_never", sprintf("`%s` never holds when `%s` is asked, whatever is answered before.",
                                          position$text, position$decision),
                "check the position; `basanos trace` shows what is remembered when")
  situations <- rows[!duplicated(rows$situation), ]
  reached <- sum(situations$reach)
  if (reached == 0) rows$reach <- 1
  c(position[c("text", "decision")],
    list(reached = reached, situations = nrow(situations),
         answers = do.call(rbind, lapply(unique(rows$seat), function(seat)
           cbind(seat = seat, answers_at_position(rows[rows$seat == seat, ], solution$kind == "secret"))))))
}

bind_rows_at <- function(tables, seat) {
  tables <- Filter(function(table) NROW(table) > 0, tables)
  for (k in seq_along(tables)) tables[[k]]$situation <- paste(seat, k, tables[[k]]$situation)
  all <- do.call(rbind, tables)
  if (!is.null(all)) cbind(seat = seat, all)
}

# One row an answer of each situation in which all conditions hold: `cost` is what it loses there.
rows_at_position <- function(site, game, asked, position, sign) {
  if (length(site$reach) == 0) return(NULL)
  holds <- Reduce(`&`, lapply(position$conditions, function(text) site$things[[match(text, names(asked))]]$values != 0),
                  rep(TRUE, length(site$reach)))
  here <- holds[site$row]
  cost <- costs_in_situations(sign * site$worth, site$row)
  type <- game$decisions[[position$decision]]$type
  data.frame(situation = site$row, answer = texts_of_values(game, site$answers, type), worth = site$worth, cost = cost,
             share = site$share, reach = site$reach[site$row])[here, ]
}

# The best first. `best_in`: the share of the situations in which nothing is better; `share`: of best play there. Where
# an answer's worth is not known, since another ends it with the most there can be, it is left out of the means.
answers_at_position <- function(rows, mixed) {
  there <- sum(rows$reach[!duplicated(rows$situation)])
  near <- (if (mixed) as_good_in_mixes else as_good) * max(1, abs(rows$worth), na.rm = TRUE)
  each <- lapply(unique(rows$answer), function(answer) {
    of_answer <- rows[rows$answer == answer, ]
    known <- !is.na(of_answer$cost)
    mean_of <- function(x, some) sum((x * of_answer$reach)[some]) / sum(of_answer$reach[some])
    data.frame(answer = answer, worth = mean_of(of_answer$worth, known), loss = mean_of(of_answer$cost, known),
               best_in = sum(of_answer$reach[known & of_answer$cost <= near]) / there,
               share = mean_of(ifelse(of_answer$share < least_share, 0, of_answer$share), TRUE),
               legal_in = sum(of_answer$reach) / there, known_in = sum(of_answer$reach[known]) / there)
  })
  table <- do.call(rbind, each)
  table <- table[order(table$loss, -table$legal_in), ]
  rownames(table) <- NULL
  table
}
