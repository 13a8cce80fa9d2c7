# Seeing: the odds of the rules as they are typed and turned, redone by themselves where that is quick.

odds_page <- function(id) {
  ns <- shiny::NS(id)
  shiny::div(
    shiny::div(class = "desk-row", shiny::uiOutput(ns("players"), class = "desk-row"),
               shiny::checkboxInput(ns("chart"), "With a chart", width = "10rem")),
    shiny::uiOutput(ns("working"), role = "status"),
    shiny::uiOutput(ns("changed")),
    shiny::uiOutput(ns("odds"), `aria-live` = "polite"))
}

most_seconds_unasked <- 2  # what took longer is worked out again at a click

# `rules`: what write_server() returns. `turned`: a reactive list of settings and pays by name.
odds_server <- function(id, folder, worker, rules, turned) shiny::moduleServer(id, function(input, output, session) {
  shown <- shiny::reactiveVal(NULL)    # the answer on the page
  before <- shiny::reactiveVal(NULL)   # the one before it
  asked <- shiny::reactiveVal(NULL)
  # The odds do not wait for the check: of rules that are not in order the check tells what is wrong.
  ready <- shiny::reactive(!is.null(rules$check()) && length(players()) == length(seats()))
  in_order <- shiny::reactive(isTRUE(rules$check()$value$ok) && identical(rules$check()$args$text, rules$text()))
  seats <- part_of_check(rules, function(check) check$seats)
  players <- shiny::reactive({
    chosen <- lapply(seq_along(seats()), function(k) input[[paste0("player_", k)]])
    Filter(function(p) !is.null(p) && nzchar(p), stats::setNames(chosen, names(seats())))
  })
  question <- shiny::reactive(list(text = rules$text(), name = rules$name(), folder = folder, set = turned(),
                                   players = players(), chart = isTRUE(input$chart)))
  work_out <- function() {
    asked(question())
    worker$ask("odds", "job_odds", question())
  }
  slow <- shiny::reactive(!is.null(shown()) && identical(shown()$args$name, rules$name()) &&
                            shown()$seconds > most_seconds_unasked)
  shiny::observe({
    question()
    if (ready() && !shiny::isolate(slow() || identical(question(), asked()))) shiny::isolate(work_out())
  })
  shiny::observeEvent(input$work_out, if (ready()) work_out())
  shiny::observeEvent(input$stop, worker$stop())
  shiny::observeEvent(worker$answers$odds, {
    answer <- worker$answers$odds
    if (is.null(answer$problem)) {
      # the same question with a chart is no change
      if (!same_but_chart(shown()$args, answer$args))
        before(if (identical(shown()$args$name, answer$args$name)) shown())
      shown(answer)
    } else if (in_order()) asked(NULL)
  })

  output$players <- shiny::renderUI(lapply(seq_along(seats()), function(k) shiny::selectInput(
    session$ns(paste0("player_", k)), sprintf("%s is played by", capital(plain_name(names(seats())[[k]]))),
    choices = c(seats()[[k]], "best"), selected = shiny::isolate(input[[paste0("player_", k)]]), selectize = FALSE,
    width = "12rem")))
  output$working <- shiny::renderUI({
    at_work <- identical(worker$busy()$kind, "odds")
    shiny::tagList(
      working_page(worker$busy(), "odds", session$ns),
      if (!at_work && ready() && in_order() && !identical(question(), shown()$args))
        shiny::actionButton(session$ns("work_out"), "Work out the odds", class = "btn-sm btn-primary"))
  })
  output$changed <- shiny::renderUI(changes_page(before(), shown()))
  output$odds <- shiny::renderUI(shiny::tagList(
    if (in_order() && !is.null(worker$answers$odds$problem))
      shiny::p(class = "desk-bad", worker$answers$odds$problem),
    answer_page(shown(), question())))
})

same_but_chart <- function(one, other) identical(one[names(one) != "chart"], other[names(other) != "chart"])

most_changes <- 6L

# What is other than before, the largest changes first.
changes_page <- function(before, now) {
  if (is.null(before) || is.null(now)) return(NULL)
  changes <- changes_in_words(before$value$rows, now$value$rows)
  if (length(changes) == 0) return(shiny::p(class = "desk-hint", "The last change moved none of these numbers."))
  shiny::div(class = "desk-changed", shiny::h3("What the last change moved"),
             shiny::tags$ul(lapply(utils::head(changes, most_changes), shiny::tags$li)))
}

# "guest bust: 30.12% -> 28.40%", of the rows of two odds. Of sampled ones only what their intervals tell apart.
changes_in_words <- function(before, now) {
  kinds <- c("outcome", "edge", "return", "pay", "record")
  key <- function(rows) paste(rows$kind, rows$name)
  both <- intersect(key(before)[before$kind %in% kinds], key(now))
  a <- before[match(both, key(before)), ]
  b <- now[match(both, key(now)), ]
  apart <- a$upper < b$lower - 1e-12 | a$lower > b$upper + 1e-12
  apart <- which(apart & !is.na(apart))
  by <- abs(b$value - a$value) / ifelse(a$kind %in% c("outcome", "edge", "return"), 1, pmax(abs(a$value), 1))
  apart <- apart[order(-by[apart])]
  text <- function(row) if (row$kind %in% c("outcome", "edge", "return")) percent_text(row$value, 2)
    else fixed_text(row$value, 3)
  vapply(apart, function(k) sprintf("%s: %s \u2192 %s", row_in_words(a[k, ]), text(a[k, ]), text(b[k, ])), "")
}

row_in_words <- function(row) {
  name <- plain_name(row$name)
  switch(row$kind, outcome = name, record = paste(name, "on average"),
         pay = sprintf("mean pay of %s", name),
         edge = sprintf("what the stall keeps of %s", name), return = sprintf("what comes back to %s", name))
}
