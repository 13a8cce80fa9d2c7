# Why a round could not go on: the ids of the core's failures, in its order, with their words.

failures <- list(
  loop_endless = c(paste0("This loop goes on for ever: a round took more than a million steps, or a match a ",
                          "million rounds (a hundred million in a game with words)."), "check what should end it"),
  number_too_large = c("A whole number grows beyond 2147483647 here.", "check the loop or the settings behind it"),
  division_by_zero = c("This divides by zero.", "guard it with if (x != 0)"),
  position_outside = c("This position or seat is not there.",
                       "positions go from 1 to size(x), and nobody has no value"),
  room_exceeded = c("This holds more items than it has room for.",
                    "give it more room where it is declared, or check what fills it"),
  nothing_to_choose = c("There is nothing to choose from here.", "make sure that there is at least one item"),
  illegal_answer = c("The answer is not among the choices.", "check the player's rule against one_of(...)"),
  outcome_impossible = c("A round ended in none of the outcomes, which the rules call impossible.",
                         "add the outcome, or an `otherwise` of its own"),
  item_absent = c("The item to remove is not there.", "check with any(x, it == item) before"),
  probability_wrong = c("A probability is outside 0 to 1 here.", "keep it between 0 and 1, as with min(1, p)"),
  not_a_number = c("This gives no number, or one too large.", "check what goes into it"),
  not_written = c("The rules are not written any further than this.",
                  "write what the hole stands for, in place of later(...)"),
  claim_broken = c("A claim of the rules is broken here.", "check the claim against the rules"),
  grid_outside = c("This number is in no heading of the grid or table.",
                   "let the headings cover every number that can come up"),
  deck_empty = c("A card is drawn here from a deck that has none left.",
                 "ask size(deck) > 0 before, or shuffle the spent cards in again"),
  tries_wrong = c("`successes` takes from 0 to 100000 tries.",
                  "check the number of tries, or give them in several goes"),
  seat_not_taken = c("Something is written here for a seat that nobody takes.",
                     "ask first who plays: the setting `seated` says how many seats are taken"),
  stake_below_zero = c("A stake is below zero here.", "check the amount: money is moved one way only"),
  stake_outside = c("This is more than the bet takes or holds, or less than it takes.",
                    "offer what is allowed, as in ask(guest, more = one_of(limits(spot)))"),
  wallet_too_small = c("The wallet does not hold this much.",
                       "offer what is allowed, as in one_of(limits(spot)), or ask wallet(guest) before"),
  amount_piece = c("This is no whole number of pieces.",
                   "change the amount, or the size of a piece: tokens(piece = ...)"),
  odds_below_zero = c("The left side of odds is below zero here.", "for a bet that is lost write lost"),
  share_among_nobody = c("A pot is shared here among nobody.", "share it only where somebody won"),
  bet_lies = c("A bet is left lying at the end of the round.",
               "settle it at the end as well: settle(line, otherwise = lost)"),
  rule_missing = c("The player has no rule for this decision, and is asked it here.",
                   "add the rule to the player, or take it from another one: player(like = other, ...)")
)

failure_code <- function(id) match(id, names(failures))

# A failure carries one number: the decision and the seat.
seats_limit <- 1000L
