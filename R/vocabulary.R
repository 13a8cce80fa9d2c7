# The one table of the language's words: it feeds the checker (kind and arguments), the hints (which
# names exist) and the printed reference. A word without a line here does not exist.
#
# kind       thing      stands after `name <-` at the top of a file
#            top        stands alone at the top of a file
#            statement  does something, in play
#            value      gives a value
#            inner      only inside another word
#            constant   a bare name with a fixed meaning
# signature  arguments in order; `?` may be left out, `...` any number

word <- function(name, kind, signature, says, example = "") {
  args <- strsplit(signature, ",\\s*")[[1]]
  optional <- endsWith(args, "?")
  list(name = name, kind = kind, args = sub("\\?$", "", args), optional = optional | args == "...",
       signature = signature, says = says, example = example)
}

vocabulary_words <- list(
  word("title", "top", "name, line?", "The game's name, and one line about it.",
       'title("Dice Duel", "The higher throw scores.")'),
  word("setting", "thing", "start, from?, to?",
       "A knob: its value unless told otherwise, and the ends of its range, both included.",
       "sides <- setting(8, from = 2, to = 100)"),
  word("mode", "thing", "...", "A named bundle of settings, chosen with --mode.", "easy <- mode(sides = 4)"),
  word("seats", "top", "..., at_least?",
       paste0("Who sits at the table, in turn order. `seats` is also the list of them. With ",
              "`at_least` the last may stay empty: the setting `seated` says how many are taken."),
              "seats(left, right)"),
  word("die", "thing", "...", "A die, wheel or reel: a range of numbers, a list of faces, or named faces with weights.",
       "cube <- die(1:6)"),
  word("signs", "thing", "...", "Signs and which beats which: `winner %verb% loser` for every pair.",
       "sign <- signs(reef %wrecks% boat, boat %outruns% squall, squall %drives% reef)"),
  word("names", "thing", "...", "A set of names; named arguments are columns: one whole number or name for each.",
       "box <- names(ones, twos, points = c(1, 2))"),
  word("deck", "thing", "..., copies?, lasts?",
       paste0("Cards by columns side by side. `for_each` crosses in another column, `plus` adds more ",
              "cards. A fresh deck each round, unless it `lasts` a match or a sitting."),
              "cards <- deck(rank = c(2:10, J, Q, K, A), for_each(suit = c(clubs, cups)))"),
  word("words", "thing", "..., length?, includes?",
       paste0("A word list: a text file beside the rules, one word a line, or words in quotes. ",
              "`includes` takes in the words of another list."), 'secrets <- words("reef", "boat", "gull")'),
  word("codes", "thing", "of, length, repeats?",
       "All rows of a given length, as a word list: pegs of a set of names, or digits.",
       "code <- codes(1:6, length = 4)"),
  word("alphabet", "thing", "of", "The letters of a word list, as a set of labels.", "letter <- alphabet(secrets)"),
  word("state", "top", "..., lasts?",
       paste0("All that is remembered, with its value at the start. `lasts` is `round` (the ",
              "default), `turn`, `match` or `sitting`."), "state(score = each(seat, 0))"),
  word("player", "thing", "seat?, ..., like?, peeks?",
       paste0("A way of playing: one rule for each decision, by its name. `like` takes the other ",
              "rules from another player. `peeks = yes` lets it read what its seat does not see."),
              "bold <- player(choice = draw)"),
  word("play", "top", "body", "One round, from its first draw to its end.", "play({ face <- roll(cube) })"),
  word("outcomes", "top", "...",
       paste0("How a round can end: the first whose condition holds counts. A seat as value makes ",
              "one outcome a seat, as in left_wins. The last is `otherwise`."),
              "outcomes(high = face > 4, low = otherwise)"),
  word("because", "top", "...", "The reason of an outcome, in words; `it` is the seat that the outcome names.",
       'because(high = "{face} is above four")'),
  word("match", "top", "first_to?, counts?, best_of?, rounds?, until?, modes?",
       paste0("What rounds make up a match: first to n counted outcomes, best of n, a ",
              "number of rounds, or until an outcome or condition. With `modes` it is a climb: one ",
              "round in each mode, up to the last or until then."), "match(first_to = 3, counts = wins)"),
  word("sitting", "top", "rounds?, until?, matches?",
       paste0("How long a player sits: n rounds (or matches, in a game that has them), or ",
              "until an outcome or condition. What `lasts` a sitting goes on from round to round."),
              "sitting(rounds = 20)"),
  word("pays", "top", "who, ...",
       "What a seat gains or loses by outcome, or in any case. Lines add up. `it` is the seat paid.",
       "pays(guest, high = 1, otherwise = -1)"),
  word("stakes", "top", "who, amount",
       paste0("What a round costs the seat to enter: return and edge are measured against it (1 ", "where not said)."),
       "stakes(guest, 1)"),
  word("record", "top", "...", "What is measured in every round.", "record(face = face)"),
  word("always", "top", "text, condition, when?",
       paste0("A claim: what holds at every ask, at the end of every turn and of every round; `when` ",
              "is ask, turn or end for one of them. check proves it or shows the shortest round that ", "breaks it."),
              'always("no face above six", face <= 6)'),
  word("never", "top", "text, condition, when?",
       "A claim: what never holds, at every ask, at the end of every turn and of every round.",
       'never("no face above six", face > 6)'),
  word("based_on", "top", "rules",
       paste0("A variant: the rules of that file or game of the fair; what follows adds to them, or ",
              "replaces what bears the same name."), 'based_on("tide-signs")'),
  word("without", "top", "...", "In a variant: names, outcomes aside, and texts of examples, that it leaves out.",
       "without(steady)"),
  word("example", "top", "text, ...", "A round, or a function, that must come out as written.",
       'example("six is high", given(cube = 6), expect(outcome = high))'),

  word("given", "inner", "...",
       paste0("In an example: the draws of a die or of a named pick, the answers of a decision, a ",
              "seat's player, a setting, a start value of state; `rest = stop` ends the round where ",
              "the given draws end."), 'example("six is high", given(cube = 6), expect(outcome = high))'),
  word("expect", "inner", "...", "In an example: outcome, pay, a record, error, or any condition.",
       "expect(outcome = high, pay = 1)"),
  word("each", "inner", "what, start",
       paste0("In state: one value for each seat, or for each name of a set. In setting: each(seat, ",
              "left = 1, right = 2)."), "state(score = each(seat, 0))"),
  word("list", "inner", "of, start?, room?, seen_by?",
       "In state: a list in which order matters, with room for `room` items (100 by default).",
       "state(faces = list(cube, room = 5))"),
  word("bag", "inner", "of, start?, room?, seen_by?",
       paste0("In state: a collection in which order does not matter. `all` as start fills it with ", "its whole set."),
       "state(faces = bag(cube, room = 5))"),
  word("one", "inner", "of, start?, seen_by?",
       paste0("In state: one item, or none yet. `seen_by` is everyone, nobody, a seat, or owner ",
              "inside each(seat, ...)."), "state(shown = one(sign))"),
  word("for_each", "inner", "...", "In deck: every card with every value of this column.",
       "cards <- deck(rank = 1:8, for_each(suit = c(clubs, cups)))"),
  word("plus", "inner", "...", "In deck: more cards, with columns and copies of their own.",
       "cards <- deck(rank = c(1:8), plus(rank = joker, copies = 2))"),
  word("cols", "inner", "...", "In grid: the headings of the columns, numbers or ranges.",
       "grid(low, high, cols(1:2, 3:4), row(1:2, hit, stand), row(3:4, stand, stand))"),
  word("row", "inner", "...", "In grid: the heading of a row, a number or a range, and its answers.",
       "grid(low, high, cols(1:2, 3:4), row(1:2, hit, stand), row(3:4, stand, stand))"),
  word("one_of", "inner", "...",
       paste0("In `ask`: the answers to choose from: names, a set, a list or bag, or a range of ",
              "numbers; `if (condition) name` offers a name sometimes."), "ask(guest, choice = one_of(draw, stand))"),
  word("some_of", "inner", "of, at_least?, at_most?", "In `ask`: some of the items of a list or bag, from none to all.",
       "ask(guest, kept = some_of(faces))"),
  word("verb", "inner", "a, b", "In a text: the verb by which sign a beats sign b.",
       'say("reef {verb(reef, boat)} boat")'),
  word("turns", "inner", "until?, each?, from?, at_most?",
       "In `for`: the seats in turn, until a condition holds after a turn, or n turns each.",
       "for (mover in turns(until = max(score) >= 20)) add(roll(cube), to = score[mover])"),

  word("ask", "statement", "who, ..., legal?, seen_by?",
       paste0("A decision, by its name: the player of the seat answers. `legal` is a condition on ",
              "the answer. Several seats asked at once answer unseen. Afterwards the name is the ", "answer, or pass."),
              "ask(seats, throw = one_of(sign))"),
  word("add", "statement", "n, to", "Adds a number to what is remembered.", "add(1, to = score[left])"),
  word("put", "statement", "x, into", "Puts an item into a list or bag.", "put(face, into = faces)"),
  word("remove", "statement", "x, from",
       "Takes one such item out of a list or bag, or each item of another. Cards removed are spent.",
       "remove(6, from = faces)"),
  word("deal", "statement", "n, to", "Deals cards from their deck to a list or bag.", "deal(2, to = hand)"),
  word("move", "statement", "x, from?, to", "Moves a card, or all that is in a place, to another place.",
       "move(hand, to = pile)"),
  word("shuffle", "statement", "deck, with?",
       "Spent cards come back into the deck; `with` first empties a pile into it.", "shuffle(cards)"),
  word("burn", "statement", "deck, n?", "Takes cards off the deck unseen; they are spent.", "burn(cards, 1)"),
  word("skip_next", "statement", "", "At the end of this turn one seat is passed over.",
       "for (mover in turns(each = 2)) skip_next()"),
  word("again", "statement", "", "The same seat has the next turn as well.",
       "for (mover in turns(at_most = 4)) again()"),
  word("reverse", "statement", "", "The turns go round the other way.", "for (mover in turns(each = 2)) reverse()"),
  word("out", "statement", "seat", "The seat has no more turns.", "for (mover in turns(each = 2)) out(mover)"),
  word("end_round", "statement", "", "The round stops here.", "end_round()"),
  word("later", "statement", "text",
       paste0("A hole: what comes here is not written yet. The game checks and outlines, and plays ", "up to there."),
       'later("move the counter")'),
  word("say", "statement", "text", "A line for the trace and the screen; `{expression}` shows a value.",
       'say("a {face}")'),

  word("roll", "value", "die, n?", "A face of a die; with a number, a bag of the faces of n dice.",
       "roll(cube, 5)"),
  word("pick", "value", "...",
       paste0("One of a range, of some values, of the choices, or of named labels by weight. In play ",
              "its answer must be given a name."), "lamp <- pick(1:6)"),
  word("chance", "value", "p", "Yes with probability p. In play its answer must be given a name.",
       "lucky <- chance(0.25)"),
  word("successes", "value", "n, p",
       paste0("How many of n tries come off, each with probability p. In play its answer must be ", "given a name."),
       "down <- successes(10, 0.7)"),
  word("draw", "value", "deck", "A card off the deck.", "top <- draw(cards)"),
  word("compare", "value", "guess, secret, naive?",
       paste0("The marks of a guess, letter by letter: placed, present or absent. `naive = yes` ",
              "marks a double letter present twice."), 'compare("reef", "free")'),
  word("placed", "value", "marks", "How many letters are placed.", 'placed(compare("reef", "free"))'),
  word("present", "value", "marks", "How many letters are present, but elsewhere.", 'present(compare("reef", "free"))'),
  word("mask", "value", "word, tried", "The letters of a word, `blank` where not among the tried.",
       'mask("reef", tried)'),
  word("switch", "value", "on, ...", "A value by case: the name of each case with what it gives, and otherwise.",
       "switch(reef, reef = 1, boat = 2, otherwise = 0)"),
  word("grid", "value", "down, across, ...", "In a player's rule: a table of answers by two numbers.",
       "grid(low, high, cols(1:2, 3:4), row(1:2, hit, stand), row(3:4, stand, stand))"),
  word("prefer", "value", "...",
       paste0("In a player's rule: the first of these answers that is legal. `if (condition) answer` ",
              "counts only when the condition holds."), "prefer(double, hit)"),
  word("beats", "value", "a, b", "Does sign a beat sign b?", "beats(reef, boat)"),
  word("other", "value", "seat", "The other of two seats.", "other(left)"),
  word("who", "value", "condition", "The only seat for which the condition about `it` holds, else `nobody`.",
       "who(score[it] >= 20)"),
  word("leader", "value", "expression",
       "The seat with the most, `it` being the seat; `nobody` when the most is shared.", "leader(score[it])"),
  word("turn_number", "value", "seat", "Which turn of the seat this is, counted from 1.",
       "for (mover in turns(each = 2)) result <- turn_number(mover)"),
  word("playing", "value", "seat", "Has the seat turns left: is it not out?", "playing(left)"),
  word("past", "value", "seat, decision", "The answers of a seat so far in the match, the oldest first.",
       "size(past(left, throw))"),
  word("size", "value", "of", "How many items; of a deck, how many cards are left.", "size(faces)"),
  word("count", "value", "of, condition", "How many items meet a condition about `it`.", "count(faces, it == 6)"),
  word("any", "value", "of, condition", "Does any item meet the condition about `it`?", "any(faces, it == 6)"),
  word("all", "value", "of, condition", "Do all items meet the condition about `it`?", "all(faces, it > 1)"),
  word("sum", "value", "of, expression?", "The sum over the items, of `it` or of an expression about `it`.",
       "sum(faces)"),
  word("max", "value", "..., expression?",
       "The greatest of some numbers, of a collection, or of an expression about its items.", "max(score)"),
  word("min", "value", "..., expression?",
       "The least of some numbers, of a collection, or of an expression about its items.", "min(2, 3)"),
  word("those", "value", "of, condition", "The items that meet a condition about `it`, as a list or bag.",
       "those(faces, it > 3)"),
  word("most", "value", "of, expression?",
       "The item with the most; on a tie the first. Also `most(choices, ...)` in a player's rule.", "most(faces)"),
  word("least", "value", "of, expression?", "The item with the least; on a tie the first.",
       "least(faces, abs(it - 3))"),
  word("groups", "value", "of, expression?",
       paste0("The sizes of the groups of items that are equal, or equal in an expression, largest ", "first: a list."),
       "groups(faces) == c(3, 2)"),
  word("commonest", "value", "of, expression?", "The items that come up most often, each once: a list.",
       "size(commonest(faces))"),
  word("longest_run", "value", "of, expression?, ends?",
       paste0("The length of the longest run of numbers, or of ranks, one after the other. `ends = ",
              "c(A, 2)`: A also stands below 2."), "longest_run(faces) >= 4"),
  word("repeated", "value", "x, n", "A list of the same item n times.", "sum(repeated(10, 3))"),
  word("abs", "value", "x", "A number without its sign.", "abs(-3)"),
  word("round_down", "value", "x", "The whole number at or below.", "round_down(7 / 2)"),
  word("round_up", "value", "x", "The whole number at or above.", "round_up(7 / 2)"),
  word("sqrt", "value", "x", "The square root.", "sqrt(2)"),
  word("log", "value", "x", "The natural logarithm.", "log(2)"),
  word("exp", "value", "x", "e to the power x.", "exp(1)"),

  word("yes", "constant", "", "True.", "yes"),
  word("no", "constant", "", "Not true.", "no"),
  word("nobody", "constant", "", "No seat.", "nobody"),
  word("none", "constant", "", "No label.", "none"),
  word("pass", "constant", "", "The answer of who had no legal one.", "choice == pass"),
  word("blank", "constant", "", "In a mask: a letter not shown.", "any(mask(\"reef\", tried), it == blank)"),
  word("turns_played", "constant", "", "How many turns there were so far in the round.", "turns_played > 8"),
  word("passes", "constant", "", "How many times nobody had a legal answer so far in the round.", "passes > 0"),
  word("asks", "constant", "", "How many answers were given so far in the round.", "asks > 0"),
  word("it", "constant", "", "The item, or the seat, that an expression inside a word is about.",
       "count(faces, it == 6)"),
  word("me", "constant", "", "In a player's rule: the seat that answers.", "score[me]"),
  word("choices", "constant", "", "In a player's rule: the legal answers.", "pick(choices)"),
  word("winner", "constant", "", "In pays: the seat that the outcome names.", "pays(winner, 1)"),
  word("others", "constant", "", "In pays: the seats that the outcome does not name, when it names one.",
       "pays(others, -1)"),
  word("everyone", "constant", "", "In pays: every seat.", "pays(everyone, -1)"),
  word("otherwise", "constant", "", "In any other case.", "outcomes(high = face > 4, low = otherwise)")
)

names(vocabulary_words) <- vapply(vocabulary_words, `[[`, "", "name")

# R's own words that the language keeps, with how they are written.
kept_syntax <- c("if", "while", "repeat", "for", "break", "next", "function", "return", "c", "<-", "{", "[", ":",
                 "+", "-", "*", "/", "^", "%%", "%/%", "==", "!=", "<", "<=", ">", ">=", "&&", "||", "!", "%in%")

# Asked at every call in the rules, so the names lie ready by kind.
words_by_kind <- split(names(vocabulary_words), vapply(vocabulary_words, `[[`, "", "kind"))

words_of_kind <- function(...) unlist(words_by_kind[c(...)], use.names = FALSE)

# Is this a word of one of these kinds?
word_is <- function(name, ...) {
  kind <- word_kinds[[name]]
  !is.null(kind) && kind %in% c(...)
}

word_kinds <- list2env(lapply(vocabulary_words, `[[`, "kind"))
vocabulary_word <- function(name) vocabulary_words[[name]]

#' The words of the rules language
#'
#' @return A data frame with one row a word: `name`, `kind`, `signature`, `says`, `example`.
#' @export
#' @examples
#' head(vocabulary())
vocabulary <- function() {
  column <- function(field) vapply(vocabulary_words, `[[`, "", field, USE.NAMES = FALSE)
  data.frame(name = column("name"), kind = column("kind"), signature = column("signature"),
             says = column("says"), example = column("example"))
}
