#' Figures of results
#'
#' A result draws itself as a ggplot2 plot: `autoplot()` gives it, to be changed or saved; `plot()` draws it.
#'
#' @details
#' * Odds: `show = "outcomes"` (bars counted exactly, points with 95% intervals sampled; of a count that stopped early
#'   the bounds), `"distributions"` (records and pays by value, with quantiles), `"convergence"` (of odds sampled to a
#'   precision: how the estimate settles; the default for these), `"answers"` (of odds from a position: what each answer
#'   leads to).
#' * Players compared: `show = "pairs"` (each against each; pale is not sure) or `"ranking"`.
#' * A sweep: a line over one setting, a heat map over two, panels over three.
#' * A balance: how far each knob moves each target.
#' * A visitor's evening: the wallet round by round; the stall's evening: what is taken; the till beside what it should
#'   show.
#' * Every answer of a decision: its return. A par table: the parts of return and variance.
#' * Two games compared: the differences. Fairness: the measure of each seat. Modes: the success in each.
#' * Streaks: the longest runs. Secrets: the hardest and the easiest.
#' * What a player does: its answers by situation. Two players: the situations in which they differ.
#' * Rounds of `simulate()`: the race, rounds won so far in matches that count them, else tokens so far.
#'
#' @param object,x A result.
#' @param show What to draw, where there is a choice.
#' @param beside More odds to draw in the same figure, in a list: the same game sampled, other games.
#' @param ... For `plot()`, what `autoplot()` takes.
#' @return `autoplot()`: a ggplot2 plot. `plot()`: the same, invisibly.
#' @section Errors: `package_needed` where ggplot2 is not installed; `argument_wrong` where there is nothing to draw.
#' @name figures
#' @examplesIf requireNamespace("ggplot2", quietly = TRUE)
#' exact <- odds("tide-signs")
#' ggplot2::autoplot(exact, beside = list(odds("tide-signs", engine = "sample", rounds = 1000)))
NULL

#' @rdname figures
#' @exportS3Method ggplot2::autoplot
autoplot.basanos_odds <- function(object, show = NULL, beside = list(), ...) {
  kinds <- c("outcomes", "distributions", "convergence", "answers")
  if (is.null(show)) show <- if (is.null(object$reached)) "outcomes" else "convergence"
  if (inherits(beside, "basanos_odds")) beside <- list(beside)
  if (!all(vapply(beside, inherits, NA, "basanos_odds")))
    abort_input("argument_wrong", "`beside` takes odds, as odds() gives them.", "write beside = list(odds(game))")
  figure <- switch(one_of_names(show, kinds, "argument_wrong", "show"),
                   outcomes = figure_of_outcomes(c(list(object), beside)),
                   distributions = figure_of_distributions(object), convergence = figure_of_convergence(object),
                   answers = figure_of_answers(object))
  naming_players(figure, c(list(object), if (show == "outcomes") beside))
}

#' @rdname figures
#' @export
plot.basanos_result <- function(x, ...) {
  figure <- figure_of(x, ...)
  print(figure)
  invisible(figure)
}

# The figure of a result, where ggplot2 is installed and the result has one.
figure_of <- function(x, ...) {
  need_package("ggplot2", "draws the figures")
  drawn <- vapply(class(x), function(k) !is.null(utils::getS3method("autoplot", k, TRUE, asNamespace("ggplot2"))), NA)
  if (any(drawn)) return(ggplot2::autoplot(x, ...))
  abort_input("argument_wrong", "There is no figure of this result.", "?figures lists the results that have one")
}

# A sentence about each figure, for readers who cannot see it.

figure_alt <- function(x, ...) UseMethod("figure_alt")

#' @export
figure_alt.basanos_odds <- function(x, show = "outcomes", ...) {
  if (show == "distributions")
    return(sprintf("Bars by value for %s, with lines at the quantiles; the numbers are in the table.",
                   enumerated(c(x$records$name[x$records$type == "number"], pay_titles(x)), 8)))
  o <- x$outcomes[order(-x$outcomes$probability), ]
  sprintf("How rounds end: %s.", enumerated(sprintf("%s %s", o$name, percent_text(o$probability, 1)), 8))
}

#' @export
figure_alt.basanos_players <- function(x, ...) {
  r <- x$ranking
  sprintf("Each player against each, by %s: on average %s.", any_seat(x$measure),
          enumerated(sprintf("%s %s", r$player, fixed_text(r$mean, 4, sign = TRUE)), 8))
}

#' @export
figure_alt.basanos_balance <- function(x, ...) {
  i <- x$influence
  sprintf("How far each knob moves each target: %s.",
          enumerated(sprintf("%s moves %s from %s to %s", i$knob, i$measure, short_number_each(i$from),
                             short_number_each(i$to)), 6))
}

short_number_each <- function(v) vapply(v, short_number, "")

#' @export
figure_alt.basanos_bankroll <- function(x, ...) {
  m <- x$measures
  said <- "The wallet over an evening: from %s tokens, half of the evenings end with %s or less, one in twenty with %s."
  sprintf(said, plain_number(x$terms$wallet), plain_number(m[["50%"]][[1]]), plain_number(m[["5%"]][[1]]))
}

#' @export
figure_alt.basanos_takings <- function(x, ...) {
  r <- x$rows
  sprintf("What an evening leaves in the till: %s.", enumerated(sprintf(
    "%s %s on average, from %s to %s in 9 evenings of 10", r$game, fixed_text(r$evening, 1), fixed_text(r[["5%"]], 0),
    fixed_text(r[["95%"]], 0)), 6))
}

#' @export
figure_alt.basanos_till <- function(x, ...) {
  sprintf("The till shows %s where %s are expected; as far off, to either side, is %s of all tills.",
          fixed_text(x$shows, 0, sign = TRUE), fixed_text(x$expected, 0, sign = TRUE), percent_text(x$two_sided, 3))
}

# Draws a figure and writes it whole or not at all. Width and height are in inches; with a scale of 2 all that is drawn
# is twice as large.
save_figure <- function(figure, path, width = NULL, height = NULL, scale = NULL) {
  kind <- figure_kind(path)
  width <- figure_size(width, "width", 10)
  height <- figure_size(height, "height", max(6.25, 1.8 + 0.24 * c(attr(figure, "rows"), 0)[[1]]))
  scale <- figure_size(scale, "scale", 1)
  drawn <- tempfile(fileext = paste0(".", kind))
  on.exit(unlink(drawn))
  if (kind == "png") grDevices::png(drawn, 128 * width, 128 * height, res = 128 * scale, type = "cairo")
  else grDevices::svg(drawn, width / scale, height / scale)
  tryCatch(print(figure), finally = grDevices::dev.off())
  if (kind == "svg" && scale != 1) enlarge_svg(drawn, width, height)
  bytes <- readBin(drawn, "raw", file.size(drawn))
  # The devices say nothing where the disk is full: a whole picture ends as pictures of its kind do.
  end <- if (kind == "png") "IEND" else "</svg>"
  if (!grepl(end, rawToChar(utils::tail(bytes[bytes != as.raw(0)], 40)), fixed = TRUE, useBytes = TRUE)) {
    abort_input("file_written", sprintf("`%s` could not be drawn whole.", path),
                "check the room on the disk for temporary files")
  }
  write_bytes(bytes, path)
}

figure_size <- function(x, name, usual) {
  if (is.null(x)) return(usual)
  if (is.numeric(x) && length(x) == 1 && !is.na(x) && x > 0.1 && x <= 100) return(x)
  abort_input("argument_wrong", sprintf("`%s` of a figure is a number from 0.1 to 100, not `%s`.", name, given_text(x)),
              "write 8, or leave it out")
}

figure_kind <- function(path) {
  kind <- tolower(tools::file_ext(path))
  if (kind %in% c("png", "svg")) return(kind)
  abort_input("format_unknown", sprintf("A figure is a .png or a .svg file, not `%s`.", basename(path)),
              "end the name with .png or .svg")
}

# The size that it says at its head; what is inside follows by its view box.
enlarge_svg <- function(path, width, height) {
  lines <- readLines(path)
  head <- grep("<svg ", lines, fixed = TRUE)[[1]]
  lines[[head]] <- sub("width=\"[^\"]*\" height=\"[^\"]*\"", sprintf("width=\"%gpt\" height=\"%gpt\"", 72 * width,
                                                                 72 * height), lines[[head]])
  writeLines(lines, path)
}

# A page shows a figure smaller than it is drawn, so that its text is no larger than that of the page.
page_scale <- 1.2

# A figure as SVG inside a page: its colours are those of the page, light or dark; own_names() names what is in it.
drawn_svg <- function(figure, alt, width = 11.5, height = 4) {
  heartbeat()
  path <- tempfile(fileext = ".svg")
  on.exit(unlink(path))
  grDevices::svg(path, width, height * page_scale, bg = "transparent")
  tryCatch(print(figure + ggplot2::theme(plot.title = ggplot2::element_blank(),
                                         plot.background = ggplot2::element_blank(),
                                         panel.background = ggplot2::element_blank())), finally = grDevices::dev.off())
  svg <- paste(readLines(path, encoding = "UTF-8"), collapse = "\n")
  head <- paste0("<svg xmlns=\"http://www.w3.org/2000/svg\" xmlns:xlink=\"http://www.w3.org/1999/xlink\" ",
                 "viewBox=\"\\1\" role=\"img\" aria-label=\"%s\">")
  alt <- gsub("\\", "\\\\", htmltools::htmlEscape(alt, attribute = TRUE), fixed = TRUE)
  svg <- page_colours(shorter_numbers(glyphs_as_used(svg)))
  sub("(?s)^.*?<svg [^>]*viewBox=\"([^\"]*)\"[^>]*>", sprintf(head, alt), svg, perl = TRUE)
}

# Letters are numbered as the session met them: here as the picture uses them, so that it is the same in any process.
glyphs_as_used <- function(svg) {
  name <- "glyph-?\\d+-\\d+"
  block <- sprintf("<(?:g|symbol)[^>]* id=\"%s\">\\s*<path [^>]*/>\\s*</(?:g|symbol)>\\s*", name)
  blocks <- regmatches(svg, gregexpr(block, svg, perl = TRUE))[[1]]
  if (length(blocks) == 0) return(svg)
  of_block <- regmatches(blocks, regexpr(name, blocks, perl = TRUE))
  used <- unique(substring(regmatches(svg, gregexpr(paste0("#", name), svg, perl = TRUE))[[1]], 2))
  first <- regexpr(block, svg, perl = TRUE)
  rest <- gsub(block, "", substring(svg, first), perl = TRUE)
  svg <- paste0(substring(svg, 1, first - 1), paste(blocks[match(used, of_block)], collapse = ""), rest)
  at <- gregexpr(name, svg, perl = TRUE)
  regmatches(svg, at) <- list(sprintf("glyph-%d", match(regmatches(svg, at)[[1]], used)))
  svg
}

# Surfaces are numbered by the session, and nothing refers to them.
own_names <- function(svg, id) {
  svg <- gsub("<g id=\"surface\\d+\">", "<g>", svg)
  svg <- gsub("(id=\"|href=\"#|url\\(#)", sprintf("\\1%s-", id), svg)
  gsub("\n\\s*", "\n", svg)
}

# Two decimals are enough for a picture.
shorter_numbers <- function(svg) gsub("(\\d+\\.\\d{2})\\d+(?![\\d%])", "\\1", svg, perl = TRUE)

# Colours by their names on the page; greys that are drawn as text go by how dark they are.
page_colours <- function(svg) {
  said <- unique(regmatches(svg, gregexpr("rgb\\([^)]*\\)", svg))[[1]])
  for (colour in said) {
    parts <- as.numeric(regmatches(colour, gregexpr("[0-9.]+", colour))[[1]]) / if (grepl("%", colour)) 100 else 255
    svg <- gsub(colour, sprintf("var(--%s)", page_colour(parts)), svg, fixed = TRUE)
  }
  svg
}

page_colour <- function(rgb) {
  known <- grDevices::col2rgb(shades) / 255
  off <- colSums(abs(known - rgb))
  if (min(off) < 0.03 || diff(range(rgb)) > 0.06) return(names(shades)[[which.min(off)]])
  light <- mean(rgb)
  if (light > 0.97) "paper" else if (light > 0.8) "grid" else if (light > 0.25) "soft" else "text"
}
