# The diagnostic behind a failure that the core reports: list(fail, info, at).
failure_diagnostic <- function(rules, program, failure, where = NULL) {
  id <- names(failures)[[failure$fail]]
  said <- failures[[id]]
  message <- said[[1]]
  if (id == "illegal_answer" && failure$info > 0) {
    seat <- rules$seats[[failure$info %% seats_limit]]
    decision <- names(rules$decisions)[[failure$info %/% seats_limit + 1L]]
    player <- program$players[[seat]]
    message <- sprintf("`%s` answers `%s` with what is not among the choices (player `%s`).", seat, decision, player)
  }
  diagnostic(id, paste(c(message, where), collapse = " "), said[[2]], program$places[, failure$at + 1L])
}
