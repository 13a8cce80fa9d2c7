# Playing by clicks: each answer plays the round again from its start, with the same luck, and goes one answer further.

play_page <- function(id) {
  ns <- shiny::NS(id)
  bslib::nav_panel("Play", value = id,
                   shiny::div(class = "desk-row desk-fields",
                              shiny::selectInput(ns("seat"), "You take", character(), selectize = FALSE,
                                                 width = "12rem"),
                              shiny::actionButton(ns("start"), "New round", class = "btn-sm btn-primary"),
                              shiny::checkboxInput(ns("advice"), "Tell what is best", width = "11rem"),
                              shiny::checkboxInput(ns("keep"), "Keep the rounds in a file", width = "14rem"),
                              shiny::span(role = "status", shiny::textOutput(ns("score"), inline = TRUE))),
                   shiny::uiOutput(ns("working"), role = "status"),
                   shiny::uiOutput(ns("round"), `aria-live` = "polite"), shiny::uiOutput(ns("answers")))
}

play_server <- function(id, folder, worker, rules) shiny::moduleServer(id, function(input, output, session) {
  played <- shiny::reactiveVal(NULL)         # the text, seed and answers of the round that is played
  pays <- shiny::reactiveVal(numeric())      # of the rounds that are over
  go_on <- function(round) {
    played(round)
    worker$ask("play", "job_play", round)
  }
  seats <- part_of_check(rules, function(check) as.character(names(check$seats)), function(seats)
    shiny::updateSelectInput(session, "seat", choices = stats::setNames(seats, plain_name(seats))))
  shiny::observeEvent(input$start, go_on(list(
    text = rules$text(), name = rules$name(), folder = folder, seed = sample.int(1e9, 1), answers = character(),
    advice = input$advice, seat = if (length(seats()) > 0) input$seat, keep = input$keep)))
  answered <- function(answer) {
    round <- played()
    round$answers <- c(round$answers, answer)
    go_on(round)
  }
  shiny::observeEvent(input$answer, answered(input$answer))
  shiny::observeEvent(input$give, if (nzchar(trimws(input$typed))) answered(input$typed))
  shiny::observeEvent(input$choose, {
    items <- worker$answers$play$value$several[as.integer(input$chosen)]
    answered(if (length(items) == 0) "none" else paste(items, collapse = ", "))
  })
  shiny::observeEvent(input$stop, worker$stop())
  round <- shiny::reactive(worker$answers$play)
  shiny::observeEvent(rules$name(), pays(numeric()))
  shiny::observeEvent(round(), if (!is.null(round()$value$over)) pays(c(pays(), round()$value$over$pay)))
  output$score <- shiny::renderText({
    n <- length(pays())
    if (n > 0) sprintf("%s so far; pays %s in all.", count_text(n, "round"), plain_number(sum(pays())))
  })
  output$working <- shiny::renderUI(working_page(worker$busy(), "play", session$ns))
  output$round <- shiny::renderUI(answer_page(round(), round()$args))
  output$answers <- shiny::renderUI(if (!is.null(round()$value) && is.null(round()$value$over))
    choices_page(round()$value, session$ns))
})

# A button for each answer, a box for each item of which some are chosen, or a field for a number or a word.
choices_page <- function(asked, ns) {
  choices <- asked$choices
  if (!is.null(asked$several)) return(shiny::div(
    class = "desk-row desk-fields", shiny::checkboxGroupInput(
      ns("chosen"), "Your choice", inline = TRUE, choiceNames = asked$several, choiceValues = seq_along(asked$several)),
    shiny::actionButton(ns("choose"), "Answer", class = "btn-sm btn-primary")))
  if (is.null(choices)) return(shiny::div(
    class = "desk-row desk-fields", shiny::textInput(ns("typed"), "Your answer", width = "12rem"),
    shiny::actionButton(ns("give"), "Answer", class = "btn-sm btn-primary")))
  shiny::div(class = "desk-row", role = "group", `aria-label` = "Your answer", lapply(choices, function(choice)
    shiny::tags$button(type = "button", class = "btn btn-outline-primary", `data-desk-input` = ns("answer"),
                       `data-desk-value` = choice, plain_name(choice))))
}
