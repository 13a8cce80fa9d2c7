# A slip that R forgives: x$play finds x$player where there is no x$play.
options(warnPartialMatchDollar = TRUE)
