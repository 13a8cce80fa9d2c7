# Claims: always(...) and never(...), what must hold in every round.

check_claim <- function(cx, node) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(invisible())
  text <- text_argument(cx, args$text, "What is claimed")
  holds <- condition(cx, new_scope("a claim"), args$condition, "What is claimed")
  when <- claim_times(cx, args$when)
  if (node$fn == "never") holds <- calculation("!", t_yesno, holds$at, list(holds))
  cx$claims <- c(cx$claims, list(list(text = sprintf("%s: %s", node$fn, if (is.null(text)) "" else text), holds = holds, when = when, at = node$at)))
}

claim_times <- function(cx, node) {
  times <- c("ask", "turn", "end")
  if (is.null(node)) return(times)
  name <- label_text(node)
  if (!is.null(name) && name %in% times) return(name)
  report(cx, "claim_when", node$at, "A claim is looked at when = ask, turn or end.", "leave `when` out for all three")
  times
}
