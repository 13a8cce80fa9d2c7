#' basanos: odds, length and fairness of casual games from their rules
#'
#' A rules file says what is on the table, how a round goes, who wins and what it pays. The same
#' compiled program is then sampled or counted exactly.
#'
#' The folder reads as the pipeline: `rules-*` (text to parsed rules), `check-*` (names, types,
#' all diagnostics at once), `program-*` (checked rules to flat code), `engine-*` (sampled and exact
#' runs), `odds-*` (what a run says), `figure-*`, `command-*`.
#'
#' @useDynLib basanos, .registration = TRUE
#' @importFrom Rcpp evalCpp
#' @keywords internal
"_PACKAGE"
