# in_words(is_bust = "{total} is past {aim}"): how a game speaks of what its rules name.

check_in_words <- function(context, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(invisible())
  for (i in seq_along(args$dots)) {
    name <- args$dot_names[[i]]
    text <- text_argument(context, args$dots[[i]], "The words for a name")
    if (is.null(text)) next
    known <- c(names(context$names), context$seats, context$outcomes$names, entry_names(context$outcomes),
               names(context$records), context$labels, names(context$play_locals))
    if (!name %in% known) {
      report(context, "unknown_name", args$dot_at[[i]],
             if (nzchar(name)) sprintf("`%s` is not a name this game knows.", name)
             else "Words need the name they are for.",
             or_spelling(did_you_mean(name, known), "write in_words(bright = \"exactly the aim\")"))
      next
    }
    context$in_words[[name]] <- list(text = text, at = args$dots[[i]]$at)
  }
}

entry_names <- function(outcomes) vapply(outcomes$entries, `[[`, "", "name")
