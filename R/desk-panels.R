# The panels that answer at a click.

desk_panels <- function() list(
  balance = targets_panel(),
  trace = desk_panel("A round", "Show it", job = "job_trace",
    fields = function(ns) shiny::tagList(
      shiny::numericInput(ns("unit"), "Number of the round", 1, min = 1, step = 1, width = "10rem"),
      shiny::textInput(ns("where"), "Or the first in which", width = "18rem",
                       placeholder = "an outcome or a condition")),
    asked = function(input) list(unit = input$unit, where = typed_line(input$where))),
  players = players_panel(),
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
