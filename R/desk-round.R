# A round step by step: the line of each step is lit in the rules, and one goes forward and back.

most_steps_shown <- 500L

job_trace <- function(text, name, folder, unit, where) {
  trace <- trace_round(game_at_desk(text, name, folder), unit, where = where)
  list(html = paste(as.character(round_page(trace, name)), collapse = "\n"))
}

round_page <- function(trace, file) {
  h <- htmltools::tags
  end <- trimws(trace_end(trace), "right")
  htmltools::tagList(
    html_sections(all_sections(trace_heading(trace)), 3),
    h$div(class = "desk-round", role = "group", `aria-label` = "The steps of the round",
          h$div(class = "desk-row",
                h$button(type = "button", class = "btn btn-sm btn-outline-primary", `data-desk-move` = "-1", "Back"),
                h$button(type = "button", class = "btn btn-sm btn-primary", `data-desk-move` = "1", "Forward"),
                h$span(class = "desk-step-number", role = "status")),
          h$p(class = "desk-now", `aria-live` = "polite"),
          h$ol(class = "desk-steps", steps_of_round(trace, file))),
    if (length(end) > 0) h$pre(tabindex = "0", paste(end, collapse = "\n")))
}

# One item a step. It knows its line, where that is in this file, and what is remembered from it on.
steps_of_round <- function(trace, file) {
  all <- shown_events(trace)
  events <- utils::head(all, most_steps_shown)
  texts <- trimws(event_texts(events))
  now <- remembered_along(events)
  left_out <- nrow(all) - nrow(events)
  step <- function(k) {
    place <- if (!is.na(events$line[[k]])) place_in_file(trace$source, events$line[[k]])
    here <- !is.null(place) && basename(place$name) == file
    htmltools::tags$li(htmltools::tags$button(
      type = "button", class = "btn btn-link desk-step", `data-desk-step` = k, `data-desk-now` = now[[k]],
      `data-desk-lit` = if (here) place$line, texts[[k]]), if (here) htmltools::tags$span(
        class = "desk-hint", sprintf("line %d", place$line)))
  }
  c(lapply(seq_len(nrow(events)), step), if (left_out > 0)
    list(htmltools::tags$li(class = "desk-hint", sprintf("%s more are left out here.", count_text(left_out, "step")))))
}

# After each event, "guest total = 11, guest tiles = 2": what has been remembered since the start.
remembered_along <- function(events) {
  values <- character()
  texts <- character(nrow(events))
  for (k in seq_len(nrow(events))) {
    if (events$kind[[k]] == "state") values[[events$name[[k]]]] <- events$value[[k]]
    texts[[k]] <- paste(names(values), values, sep = " = ", collapse = ", ")
  }
  texts
}
