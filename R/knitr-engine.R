# Rules files as code blocks of R Markdown and Quarto: checked where they stand, and a game object afterwards.

# The block's label, or its option `game`, names the object: a block `{basanos tiles}` leaves the game `tiles`.
knit_rules <- function(options) {
  code <- paste(options$code, collapse = "\n")
  if (isFALSE(options$eval)) return(knitr::engine_output(options, code, NULL))
  name <- if (is.null(options$game)) gsub("[^A-Za-z0-9_]+", "_", options$label) else options$game
  path <- file.path(tempdir(), paste0(name, ".game"))
  on.exit(unlink(path))
  writeLines(code, path, useBytes = TRUE)
  check <- check_game(path, findings = isTRUE(options$findings))
  said <- format(check)
  if (nrow(check$problems) > 0 || !check$ok) {
    if (!isTRUE(options$error)) stop(paste(c(sprintf("The block `%s`:", options$label), said), collapse = "\n"),
                                     call. = FALSE)
  }
  if (nrow(check$problems) == 0) {
    where <- knitr::knit_global()
    where[[name]] <- game(path)
  }
  # Of rules in order the first line is only the name of a file.
  knitr::engine_output(options, code, paste(if (nrow(check$problems) == 0) said[-1] else said, collapse = "\n"))
}

register_knitr_engine <- function(...) knitr::knit_engines$set(basanos = knit_rules)

# As soon as knitr is there, whichever of the two comes first.
.onLoad <- function(libname, pkgname) {
  if ("knitr" %in% loadedNamespaces()) register_knitr_engine()
  setHook(packageEvent("knitr", "onLoad"), register_knitr_engine)
}
