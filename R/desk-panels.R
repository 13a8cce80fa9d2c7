# The panels that answer at a click.

desk_panels <- function() list(
  balance = desk_panel("It should", "Find values", job = "job_balance",
    fields = function(ns) shiny::tagList(
      shiny::textAreaInput(ns("want"), "Targets, one a line", rows = 3, width = "18rem",
                           placeholder = "edge(guest) in 8%..12%"),
      shiny::textAreaInput(ns("knobs"), "What may be turned, one a line", rows = 3, width = "18rem",
                           placeholder = "pay(bright) in 1..6")),
    asked = function(input) list(want = typed_lines(input$want), knobs = typed_lines(input$knobs)),
    more = function(value, ns) lapply(seq_along(value$answers), function(k)
      shiny::tags$button(type = "button", class = "btn btn-sm btn-outline-primary", `data-desk-input` = ns("write"),
                         `data-desk-value` = k, sprintf("Write answer %d into the rules", k)))),
  trace = desk_panel("A round", "Show it", job = "job_trace",
    fields = function(ns) shiny::tagList(
      shiny::numericInput(ns("unit"), "Number of the round", 1, min = 1, step = 1, width = "10rem"),
      shiny::textInput(ns("where"), "Or the first in which", width = "18rem",
                       placeholder = "an outcome or a condition")),
    asked = function(input) list(unit = input$unit, where = typed_line(input$where))),
  players = desk_panel("Players", "Compare them", job = "job_players", fields = function(ns) NULL,
    asked = function(input) list()),
  evening = desk_panel("An evening", "Play evenings", job = "job_evening",
    fields = function(ns) shiny::tagList(
      shiny::numericInput(ns("wallet"), "The visitor's tokens", 20, min = 1, width = "10rem"),
      shiny::numericInput(ns("visits"), "Visits an hour", 12, min = 1, width = "10rem"),
      shiny::numericInput(ns("float"), "The stall's float", 100, min = 0, width = "10rem")),
    asked = function(input) list(wallet = input$wallet, visits = input$visits, float = input$float)),
  report = desk_panel("Report", "Write the page", job = "job_report", fields = function(ns) shiny::textInput(
      ns("page"), "Name of the page", width = "18rem", placeholder = "my-stall.html"),
    asked = function(input) list(page = typed_line(input$page))))

typed_lines <- function(text)
  Filter(nzchar, trimws(strsplit(if (is.null(text)) "" else text, "\n", fixed = TRUE)[[1]]))

typed_line <- function(text) if (length(typed_lines(text)) > 0) typed_lines(text)[[1]]

# An answer of the balance that is to be written goes the way of what is turned.
balance_write_server <- function(id, answer, folder, worker, rules) shiny::moduleServer(id, function(input, output,
                                                                                                     session) {
  shiny::observeEvent(input$write, worker$ask("write", "job_write", list(
    text = rules$text(), name = rules$name(), folder = folder,
    set = answer()$value$answers[[as.integer(input$write)]])))
})
