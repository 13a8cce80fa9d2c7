# "It should": targets and what may be turned, chosen from lists or typed, and the answers of the balance.

targets_panel <- function() desk_panel("It should", "Find values", job = "job_balance",
  fields = function(ns) shiny::tagList(
    shiny::div(class = "desk-row desk-fields",
               shiny::selectInput(ns("measure"), "A target", character(), selectize = FALSE, width = "14rem"),
               shiny::selectInput(ns("relation"), "should be", names(target_relations), selectize = FALSE,
                                  width = "7rem"),
               shiny::numericInput(ns("low"), "from", NA, width = "4.2rem"),
               shiny::conditionalPanel("input.relation == 'between'", ns = ns,
                                       shiny::numericInput(ns("high"), "to", NA, width = "4.2rem")),
               shiny::actionButton(ns("add_target"), "Add", `aria-label` = "Add the target",
                                   class = "btn-sm btn-outline-primary")),
    shiny::div(class = "desk-row desk-fields",
               shiny::selectInput(ns("knob"), "What may be turned", character(), selectize = FALSE, width = "14rem"),
               shiny::numericInput(ns("least"), "from", NA, width = "4.2rem"),
               shiny::numericInput(ns("most"), "to", NA, width = "4.2rem"),
               shiny::actionButton(ns("add_knob"), "Add", `aria-label` = "Let it be turned",
                                   class = "btn-sm btn-outline-primary")),
    shiny::textAreaInput(ns("want"), "Targets, one a line", rows = 2, width = "15rem",
                         placeholder = "edge(guest) in 8%..12%"),
    shiny::textAreaInput(ns("knobs"), "What may be turned, one a line", rows = 2, width = "15rem",
                         placeholder = "pay(bright) in 1..6")),
  asked = function(input) list(want = typed_lines(input$want), knobs = typed_lines(input$knobs)),
  more = function(value, ns) lapply(seq_along(value$answers), function(k)
    shiny::tags$button(type = "button", class = "btn btn-sm btn-outline-primary", `data-desk-input` = ns("write"),
                       `data-desk-value` = k, sprintf("Write answer %d into the rules", k))))

target_relations <- c(between = "in", "at least" = "at least", "at most" = "at most", near = "near")

# `answer`: a reactive, what the panel found last. An answer that is written goes the way of what is turned.
targets_server <- function(id, answer, folder, worker, rules) shiny::moduleServer(id, function(input, output, session) {
  offered <- part_of_check(rules, function(check) check[c("measures", "knobs")], function(now) {
    measures <- vapply(now$measures, `[[`, "", "name")
    names(measures) <- vapply(now$measures, `[[`, "", "words")
    knobs <- vapply(now$knobs, `[[`, "", "name")
    names(knobs) <- vapply(knobs, plain_name, "")
    kept <- function(chosen, choices) if (isTRUE(chosen %in% choices)) chosen
    shiny::updateSelectInput(session, "measure", choices = measures, selected = kept(input$measure, measures))
    shiny::updateSelectInput(session, "knob", choices = knobs, selected = kept(input$knob, knobs))
  })
  chosen <- function(of, name) Find(function(x) x$name == name, offered()[[of]])
  shiny::observeEvent(input$knob, {
    knob <- chosen("knobs", input$knob)
    if (!identical(knob$kind, "number")) return()
    shiny::updateNumericInput(session, "least", value = knob$from)
    shiny::updateNumericInput(session, "most", value = knob$to)
  })
  add_line <- function(to, line) {
    if (is.null(line)) return(shiny::showNotification("A number is missing.", type = "error", session = session))
    lines <- unique(c(typed_lines(input[[to]]), line))
    shiny::updateTextAreaInput(session, to, value = paste(lines, collapse = "\n"))
  }
  shiny::observeEvent(input$add_target, add_line("want", target_line(
    chosen("measures", input$measure), input$relation, c(input$low, input$high))))
  shiny::observeEvent(input$add_knob, add_line("knobs", knob_line(chosen("knobs", input$knob),
                                                                  c(input$least, input$most))))
  shiny::observeEvent(input$write, ask_to_write(worker, rules, folder,
                                                answer()$value$answers[[as.integer(input$write)]]))
})

# "edge(guest) in 8%..12%"; shares are typed in percent. NULL where a number is missing.
target_line <- function(measure, relation, numbers) {
  numbers <- if (relation == "between") sort(numbers, na.last = TRUE) else numbers[[1]]
  if (is.null(measure) || anyNA(numbers) || relation == "between" && length(numbers) < 2) return(NULL)
  numbers <- paste0(vapply(numbers, plain_number, ""), if (measure$share) "%")
  sprintf("%s %s %s", measure$name, target_relations[[relation]], paste(numbers, collapse = ".."))
}

# "aim in 20..26": the values between these that lie whole steps from the one in the rules.
knob_line <- function(knob, ends) {
  if (is.null(knob)) return(NULL)
  if (knob$kind == "yesno") return(sprintf("%s in no, yes", knob$name))
  if (anyNA(ends)) return(NULL)
  steps <- (sort(ends) - knob$value) / knob$step
  ends <- vapply(knob$value + knob$step * c(min(ceiling(steps[[1]]), 0), max(floor(steps[[2]]), 0)), plain_number, "")
  sprintf("%s in %s..%s%s", knob$name, ends[[1]], ends[[2]],
          if (knob$step == 1) "" else sprintf(" by %s", plain_number(knob$step)))
}

# What a target can be about: list(name, words, share) each, `share` where it is a part of one.
measures_at_desk <- function(game) {
  staked <- game$seats[vapply(seq_along(game$seats), puts_in, NA, game = game)]
  listed <- function(names, measure, words, share = TRUE)
    lapply(names, function(name) list(name = sprintf(measure, name), words = sprintf(words, plain_name(name)),
                                      share = share))
  c(listed(staked, "edge(%s)", "the stall keeps of %s"),
    listed(staked, "gain(%s)", "rounds in which %s gains"),
    if (length(game$pays) > 0) listed(setdiff(game$seats, staked), "mean_pay(%s)", "mean pay of %s", share = FALSE),
    listed(game$outcomes$names, "probability(outcome == %s)", "rounds that end with %s"),
    listed(numbers_recorded(game), "mean(%s)", "%s on average", share = FALSE))
}
