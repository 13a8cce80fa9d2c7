# The facts that belong in the report of a fault.
situation_report <- function() {
  version <- function(p) if (requireNamespace(p, quietly = TRUE)) as.character(utils::packageVersion(p)) else "missing"
  imported <- c("cli", "digest", "jsonlite", "optparse", "Rcpp")
  suggested <- c("future", "generics", "ggplot2", "htmltools", "knitr", "processx", "tibble")
  exact <- odds("lantern-tiles", engine = "exact")$pays$mean
  sampled <- odds("lantern-tiles", engine = "sample", rounds = 20000)$pays
  works <- abs(sampled$mean - exact) < 5 * sampled$standard_error
  compiler <- nzchar(Sys.which(r_compiler()[[1]]))
  rows <- list(basanos = version("basanos"), R = as.character(getRversion()), system = utils::osVersion,
               platform = R.version$platform, locale = Sys.getlocale("LC_CTYPE"),
               cores = plain_number(parallel_cores()),
               compiler = if (compiler) "found" else "none: long runs are slower",
               "the engines agree" = if (works) "yes" else "NO",
               packages = paste(imported, vapply(imported, version, ""), collapse = ", "),
               "optional packages" = paste(suggested, vapply(suggested, version, ""), collapse = ", "))
  structure(list(rows = data.frame(what = names(rows), value = unlist(rows, use.names = FALSE))),
            class = result_class("situation"))
}

parallel_cores <- function() {
  cores <- parallel::detectCores()
  if (is.na(cores)) 1 else cores
}

#' @export
sections.basanos_situation <- function(x, ...)
  all_sections(section("Basanos on this machine", notes = sprintf("  %s  %s", format(x$rows$what), x$rows$value)))

#' @export
as.data.frame.basanos_situation <- function(x, ...)
  result_rows(x, "situation", gsub(" ", "_", x$rows$what), rep(NA_real_, nrow(x$rows)), text = x$rows$value)
