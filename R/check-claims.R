# Claims: always(...) and never(...), what must hold in every round.

check_claim <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  text <- text_argument(context, args$text, "The claim")
  scope <- ended_scope("a claim")
  holds <- condition(context, scope, args$condition, "The claim")
  when <- if (is.null(args$when) && isTRUE(scope$reads_end)) "end" else claim_times(context, args$when)
  if (isTRUE(scope$reads_end) && !"end" %in% when)
    report(context, "claim_when", args$when$at, "What a round ends with is known at its end alone.", "write when = end")
  if (node$fn == "never") holds <- calculation("!", t_yesno, holds$at, list(holds))
  context$claims <- c(context$claims,
                      list(list(text = sprintf("%s: %s", node$fn, if (is.null(text)) "" else text), holds = holds,
                                when = when, at = node$at)))
}

claim_times <- function(context, node) {
  times <- c("ask", "turn", "end")
  if (is.null(node)) return(times)
  name <- label_text(node)
  if (!is.null(name) && name %in% times) return(name)
  report(context, "claim_when", node$at, "`when` is ask, turn or end.",
         "leave `when` out for all three")
  times
}
