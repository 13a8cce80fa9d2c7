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
