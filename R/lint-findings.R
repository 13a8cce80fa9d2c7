# Findings about rules without errors, worth a look. Each finding has an id,
# a line (or NA) and a message.

finding_states <- 5e4
finding_steps <- 2e7

# All findings of a game, as a data frame: id, line, message, mend. What stops a round, whatever its id, goes before all
# others.
find_findings <- function(game, settings = list(), players = list(), mode = NULL) {
  program <- program_of(watched_for_findings(new_question(game, settings, players, mode)))
  run <- tryCatch(run_for_findings(game, program), basanos_error = identity)
  tried <- try_line_ups(game, settings, players, mode)
  played <- if (inherits(run, "error")) stopped_findings(run)
    else c(outcome_findings(game, run, tried), overlap_findings(game, run), several_findings(game, run),
           pass_findings(run), endless_findings(run),
           if (run$exact) record_findings(game, settings, players, mode) else merge_findings(game, run))
  answers <- if (!inherits(run, "error")) c(answer_findings(game, settings, players, mode),
                                            best_findings(game, settings, players, mode))
  findings <- c(lapply(game$notes, function(n) finding(n$id, n$at, n$message)), unread_settings(game),
                unused_functions(game), sign_findings(game), near_copies(game), played, answers,
                line_up_findings(tried), list_knowing_findings(game), reach_findings(game),
                money_findings(game, settings, players, mode))
  findings <- Filter(Negate(is.null), findings)
  findings <- findings[order(match(vapply(findings, `[[`, "", "id"), names(finding_mends), nomatch = 0L))]
  id <- vapply(findings, `[[`, "", "id")
  mend <- unname(finding_mends[id])
  data.frame(id = id, file = files_of(findings, game$source), line = lines_of(findings, game$source),
             message = vapply(findings, `[[`, "", "message"), mend = ifelse(is.na(mend), "", mend))
}

# The question with what the findings measure recorded in place of the rest: passes, and outcomes that hold together.
watched_for_findings <- function(question) {
  game <- question$game
  at <- c(1L, 1L, 1L, 1L)
  question$counted <- union(question$counted, "passes")
  question$records <- c(list(passes = list(name = "passes", node = typed("counter", t_whole, at, name = "passes"),
                                       at = at)),
                    lapply(outcome_pairs(game),
                           function(p)
                             list(name = "both",
                                  node = calculation("&&", t_yesno, at, list(p$first$node, p$second$node)), at = at)),
                    lapply(outcomes_by_who(game), function(e) list(name = "several", node = several_hold(game, e),
                                                                   at = at)))
  if (!has_money(game) && is.null(question$paid_variable)) {  # where nothing reads them, pays only keep states apart
    question$game$pays <- list()
    question$game$paid <- integer()
  }
  question
}

most_pairs <- 28L

# Pairs of outcomes by condition, the earlier first.
outcome_pairs <- function(game) {
  by_condition <- Filter(function(e) e$how == "condition", game$outcomes$entries)
  pairs <- list()
  for (i in seq_along(by_condition)) for (j in seq_along(by_condition)) if (i < j && length(pairs) < most_pairs)
    pairs <- c(pairs, list(list(first = by_condition[[i]], second = by_condition[[j]])))
  pairs
}

# Counted exactly where that is quick, else sampled.
run_for_findings <- function(game, program) {
  findings <- function(run, ...)
    c(run, list(share = run$outcomes / run$rounds, records = records_of_run(program, run)), ...)
  run <- run_exact(game, program, finding_states, finding_steps, max_frontier = 4 * finding_states)
  if (run$complete) return(findings(run, list(exact = TRUE)))
  differ <- stats::setNames(run$values, colnames(program$groups))
  findings(run_sample(game, program, finding_units(game, program), 1, 1), list(exact = FALSE, differ = differ))
}

# Of all the quantities of a run the records, which come behind the pays.
records_of_run <- function(program, run)
  run$quantities[quantity_of_record(program, names(program$records)[[1]]) - 1 + seq_along(program$records)]

percent_of <- function(share) if (share > 0 && share < 0.0001)
  sprintf("%.2g%%", 100 * share) else percent_text(share, 2)

# Of sampled rounds the interval, of counted ones the share itself.
share_of <- function(share, run) {
  if (run$exact) return(percent_of(share))
  ends <- wilson_interval(share * run$units, run$units)
  sprintf("%s to %s", percent_text(ends$lower, 1), percent_text(ends$upper, 1))
}

rounds_to_say_never <- 2000  # fewer say little

# An outcome is never reached when no player gets there.
outcome_findings <- function(game, run, tried) {
  findings <- list()
  elsewhere <- Reduce(`+`, Filter(Negate(is.null), lapply(tried, `[[`, "share")), 0 * run$share)
  for (e in game$outcomes$entries) for (k in match(e$outcomes, game$outcomes$names)) {
    name <- game$outcomes$names[[k]]
    share <- run$share[[k]]
    if (share == 0 && elsewhere[[k]] == 0) {
      message <- if (run$exact && length(tried) == 0) sprintf("The outcome `%s` is never reached.", name)
        else if (run$exact) sprintf("The outcome `%s` is not reached by any player tried.", name)
        else sprintf("The outcome `%s` was not reached in %s rounds.", name, whole_text(run$rounds))
      if (run$exact || run$rounds >= rounds_to_say_never)
        findings <- c(findings, list(finding("outcome_never", e$at, message)))
    } else if (e$how == "otherwise" && share > 0.5 && length(game$outcomes$names) > 2) {
      message <- sprintf("%s of the rounds fall to `%s = otherwise`.", share_of(share, run), e$name)
      findings <- c(findings, list(finding("outcome_rest", e$at, message)))
    }
  }
  findings
}

yes_share <- function(counts) sum(counts$weight[counts$value != 0]) / sum(counts$weight)

# Outcomes that hold together are told once: in an ordered list that is often on purpose.
overlap_findings <- function(game, run) {
  pairs <- outcome_pairs(game)
  shares <- vapply(run$records[seq_along(pairs) + 1L], yes_share, 0)
  together <- which(shares > 0)
  if (length(together) == 0) return(list())
  together <- together[order(shares[together], decreasing = TRUE)]
  texts <- vapply(together, function(k)
    sprintf("`%s` with `%s` (%s of rounds)", pairs[[k]]$first$name, pairs[[k]]$second$name,
            share_of(shares[[k]], run)), "")
  list(finding("outcomes_overlap", pairs[[together[[1]]]]$second$at,
               sprintf("Some outcomes can hold together, and the first in the list counts: %s.", enumerated(texts))))
}

# Outcomes that `who` decides: wins = who(score[it] == 6).
outcomes_by_who <- function(game)
  if (has_table(game)) list() else Filter(function(e) e$how == "seat" && e$node$op == "who", game$outcomes$entries)

# Whether the condition holds for several seats and a later outcome counts.
several_hold <- function(game, entry) {
  node <- entry$node
  at <- node$at
  seats <- typed("seats", t_collection("list", node$it$type), at)
  holding <- typed("fold", t_whole, at, how = "count", over = seats, it = node$it, body = node$body, const = FALSE)
  last <- max(match(entry$outcomes, game$outcomes$names))
  calculation("&&", t_yesno, at, list(
    calculation(">=", t_yesno, at, list(holding, literal(2, t_whole, at))),
    calculation(">", t_yesno, at, list(typed("outcome", t_whole, at), literal(last, t_whole, at)))))
}

several_findings <- function(game, run) {
  entries <- outcomes_by_who(game)
  shares <- vapply(run$records[1L + length(outcome_pairs(game)) + seq_along(entries)], yes_share, 0)
  Map(function(e, share) finding("who_several", e$at,
                                 sprintf(paste("In %s of the rounds the condition of `%s` holds for several seats:",
                                               "`who` is then nobody, and a later outcome counts."),
                                         share_of(share, run), e$name)),
      entries[shares > 0], shares[shares > 0])
}

pass_findings <- function(run) {
  share <- yes_share(run$records[[1]])
  if (share > 0)
    list(finding("no_legal_answer", NULL,
                 sprintf("In %s of the rounds somebody has no legal answer, and passes.", share_of(share, run))))
}

endless_findings <- function(run) {
  if (isTRUE(run$residual > 0))
    list(finding("round_unbounded", NULL, "A round may go on without a bound: there is no greatest number of draws."))
}

# The reasons why equal positions are counted apart.
merge_findings <- function(game, run) {
  c(list_findings(game), differ_findings(game, run$differ))
}

# Is it what is recorded that an exact count takes too long over? Tried without all of it, then without one at a time.
record_findings <- function(game, settings, players, mode) {
  states_without <- function(names) {
    program <- program_of(without_records(new_question(game, settings, players, mode), names))
    run <- run_exact(game, program, 2 * finding_states, 2 * finding_steps, max_frontier = 4 * finding_states)
    if (run$complete) run$states
  }
  described <- function(names, states)
    list(finding("record_slow", NULL, sprintf("Without recording %s, an exact count takes %s states.",
                                              some_of_names(names), whole_text(states))))
  all <- names(game$records)
  if (length(all) == 0 || !is.null(states_without(character()))) return(NULL)
  states <- states_without(all)
  if (is.null(states)) return(NULL)
  for (name in all) {
    alone <- states_without(name)
    if (!is.null(alone)) return(described(name, alone))
  }
  described(all, states)
}

# The places of the rules that keep states of exact apart.
differ_findings <- function(game, differ) {
  differ <- sort(differ[differ > 1], decreasing = TRUE)
  if (length(differ) == 0) return(NULL)
  shown <- utils::head(differ, 3)
  list(finding("positions_many", NULL,
               sprintf("There are more positions than a quick exact count takes. Where it left off, %s.",
                       paste(sprintf("`%s` took %s values", names(shown), whole_text(shown)), collapse = ", "))))
}

list_findings <- function(game) {
  lists <- Filter(function(part) {
    type <- if (is_kind(part$variable$type, "each")) part$variable$type$of else part$variable$type
    is_kind(type, "list")
  }, game$state)
  advice <- paste0("`%s` is a list: its order makes positions different. Where order never matters a bag ",
                   "lets exact merge them.")
  unread <- Filter(function(part) !reads_order(game, part$variable$id), lists)
  lapply(unread, function(part) finding("order_kept", part$at, sprintf(advice, part$name)))
}

# Does anything in the rules read where an item stands in this list? Then a bag would be another game.
reads_order <- function(game, id) {
  reads <- FALSE
  is_it <- function(node) is.list(node) && is.environment(node$var) && identical(node$var$id, id)
  ordered <- c("at_position", "collection_same", "collection_part", "for_items", "best_item")
  walk(list(game$play, game$outcomes, game$decisions, game$records, game$pays, game$names), function(n)
    if (n$op %in% ordered && any(vapply(n, is_it, NA))) reads <<- TRUE)
  reads
}

# --- what the text itself shows ------------------------------------------------------

unread_settings <- function(game) {
  unread <- lapply(game$settings, function(s) {
    name <- sub("\\[.*", "", s$name)
    others <- Filter(function(n) declared_name(n) != name && !(n$kind == "call" && n$fn %in% c("example", "seats")),
                     game$nodes)
    if (name != "seated" && !mentions(others, name))
      finding("setting_unread", s$at, sprintf("The setting `%s` is never read.", name))
  })
  unname(Filter(Negate(is.null), unread))
}

unused_functions <- function(game) {
  unused <- lapply(Filter(function(d) d$kind == "function", game$names), function(d) {
    others <- Filter(function(n) declared_name(n) != d$name, game$nodes)
    if (!mentions(others, d$name))
      finding("function_unused", d$at, sprintf("The function `%s` is never called.", d$name))
  })
  unname(Filter(Negate(is.null), unused))
}

# Functions that are alike but for one number or name.
near_copies <- function(game) {
  functions <- Filter(function(d) d$kind == "function", game$names)
  copies <- list()
  for (i in seq_along(functions)) for (j in seq_along(functions)) {
    if (i >= j) next
    a <- node_leaves(functions[[i]]$body)
    b <- node_leaves(functions[[j]]$body)
    if (length(a) != length(b) || length(a) < 6 || sum(a != b) != 1) next
    odd <- which(a != b)
    copies <- c(copies,
                list(finding("near_copy", functions[[j]]$at,
                             sprintf("`%s` and `%s` differ only in %s and %s: one function with a parameter would do.",
                                     functions[[i]]$name, functions[[j]]$name, a[[odd]], b[[odd]]))))
  }
  copies
}

# Everything that a body says, in order.
node_leaves <- function(node) {
  switch(node$kind,
    number = format(node$value), text = node$value, name = node$name,
    call = c(node$fn, unlist(lapply(node$args, node_leaves)), ")"),
    node$kind)
}

# The advice for each finding, by its id, the most important first. The others have it in their message.

finding_mends <- c(
  outcome_never = "mend its condition, or take the outcome out",
  answer_never = "write a player who gives it, or take the answer out",
  branch_unreached = "mend the condition that leads there, or take the lines out",
  no_legal_answer = "offer an answer that is always legal, or leave it so if passing is meant",
  who_several = "say which of them it is: leader(...), last_mover, or an outcome for several",
  setting_unread = "use the setting, or take it out",
  function_unused = "call the function, or take it out",
  outcome_rest = "give these rounds an outcome of their own",
  loss_beyond_stake = "let the seat put in what it may lose",
  breakage = "bet in steps that come out even, or take smaller pieces: tokens(piece = 0.05)",
  wallet_cuts = "ask for more tokens before a round: wallet(guest, 20, needs = 5)",
  sign_dominated = "let it win against one sign more",
  answer_dominated = "let it pay more, or take it out",
  best_gains = "if the stall is to keep something, let it pay less: basanos best tells who plays so",
  signs_uneven = "let each sign beat as many signs as beat it",
  record_slow = "leave the record out where an exact count matters",
  list_known = "let it slip to see what others find: --player SEAT=PLAYER~0.2",
  branch_untried = "make an example of such a round",
  near_copy = "",
  order_kept = "",
  outcomes_overlap = "leave it so if this order is meant",
  round_unbounded = "limit the rounds if they may get too long",
  positions_many = "sample the odds, or remember less")

# Findings that nearly every game has: shown only with --all.
usual_findings <- c("order_kept", "outcomes_overlap", "round_unbounded", "positions_many")
