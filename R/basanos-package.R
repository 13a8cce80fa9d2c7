#' basanos: odds, length and fairness of casual games from their rules
#'
#' A rules file says what is on the table, how a round goes, who wins and what it pays. The same
#' compiled program is then sampled or counted exactly.
#'
#' The folder reads as the pipeline: `rules-*` (text to parsed rules), `check-*` (names, types,
#' all diagnostics at once), `program-*` (checked rules to flat code), `engine-*` (sampled and exact
#' runs), `odds-*` (what a run says), `figure-*`, `report-*`, `command-*`.
#'
#' @section Results: Every result has `print()`, `format()`, `summary()`, `as.data.frame()`, [sections()] and
#'   [format_result()]; most have a figure: see [figures]. Data frames name a thing the same way everywhere: `value` or
#'   `probability` of what `name`, `measure` or `outcome` says, `standard_error`, `lower` and `upper` (95%).
#' @section Options: `basanos.verbosity`: `"quiet"` (no messages, no progress), `"normal"` or `"verbose"`.
#'   `basanos.compile`: `FALSE` keeps long runs from being compiled. The environment variable `NO_COLOR` keeps colours
#'   away. What has independent parts takes `workers`, and [sample_tally()] the plan of the future package.
#' @section Errors: An error that the input caused has the class `basanos_error` and `basanos_<id>`, and the field
#'   `diagnostics`, a list with `id`, `message`, `hint` and place of each.
#' @section R Markdown and Quarto: With knitr there, a block `{basanos tiles}` holds a rules file: it is checked, its
#'   examples are played, and a game object `tiles` is left (or the name that the option `game` gives). A block that
#'   does not hold stops the document, unless `error = TRUE`; `findings = TRUE` tells what is worth knowing. The options
#'   may stand in the block, as `#| label: tiles`. Quarto takes knitr where the head of a text says `engine: knitr`.
#'
#' @useDynLib basanos, .registration = TRUE
#' @importFrom Rcpp evalCpp
#' @keywords internal
"_PACKAGE"
