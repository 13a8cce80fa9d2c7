# What lies on the table in a round that is played, as HTML: cards in frames, dice with their spots.

# `lines`: those of play_game(), as a text in a page. Lines of what a seat sees begin with four spaces.
table_html <- function(lines, game) {
  html <- htmltools::htmlEscape(lines)
  seen <- grepl("^    ", lines)
  html[seen] <- with_cards(html[seen], cards_of_game(game))
  dice <- sprintf("    %s ", names_of_dice(game))
  on_dice <- vapply(lines, function(line) any(startsWith(line, dice)), NA)
  html[on_dice] <- vapply(html[on_dice], with_dice, "", USE.NAMES = FALSE)
  sprintf("<pre tabindex=\"0\">%s</pre>", paste(html, collapse = "\n"))
}

cards_of_game <- function(game)
  unique(unlist(lapply(Filter(function(d) identical(d$kind, "deck"), game$names), `[[`, "card_names")))

# Longer names first: `10 oars` is no `0 oars`.
with_cards <- function(html, cards) {
  html <- gsub("\\b([0-9]+ unseen)\\b", "<span class=\"desk-card desk-back\">\\1</span>", html)
  if (length(cards) == 0) return(html)
  cards <- cards[order(-nchar(cards))]
  quoted <- gsub("([^A-Za-z0-9 ])", "\\\\\\1", as.character(htmltools::htmlEscape(cards)))
  gsub(sprintf("(?<![\\w])(%s)(?![\\w])", paste(quoted, collapse = "|")), "<span class=\"desk-card\">\\1</span>", html,
       perl = TRUE)
}

# The words of what holds several numbers, in a game with dice.
names_of_dice <- function(game) {
  if (!any(vapply(game$names, function(d) identical(d$kind, "die"), NA))) return(character())
  holds_numbers <- function(type) is_collection(type) && is_kind(type$of, "whole")
  held <- Filter(function(s) holds_numbers(s$variable$type) || holds_numbers(s$variable$type$of), game$state)
  names <- vapply(held, `[[`, "", "name", USE.NAMES = FALSE)
  in_words_of(names, words_of_names(game, resolve_settings(game)))
}

# A line whose numbers are all faces of a die of six.
with_dice <- function(line) {
  places <- gregexpr("(?<![\\w>])[0-9]+(?![\\w]| unseen)", line, perl = TRUE)
  faces <- as.integer(regmatches(line, places)[[1]])
  if (!all(faces %in% 1:6)) return(line)
  regmatches(line, places) <- list(sprintf("<span class=\"desk-die\" role=\"img\" aria-label=\"%d\">%s</span>", faces,
                                           intToUtf8(0x267F + faces, multiple = TRUE)))
  line
}
