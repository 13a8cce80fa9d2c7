# A panel of the desk: a question, a button that asks it, and what came back. It stays, in grey, when the rules change.

# title, button   what the panel and its button are called
# fields          a function of ns: the inputs
# asked           a function of the inputs: the arguments of the job, beside the rules
# job             the name of the job
# more            a function of what came back and ns: what stands under it, if anything
desk_panel <- function(title, button, fields, asked, job, more = function(value, ns) NULL)
  list(title = title, button = button, fields = fields, asked = asked, job = job, more = more)

panel_page <- function(id, panel) {
  ns <- shiny::NS(id)
  bslib::nav_panel(panel$title, value = id,
                   shiny::div(class = "desk-row desk-fields", panel$fields(ns),
                              shiny::actionButton(ns("work_out"), panel$button, class = "btn-sm btn-primary")),
                   shiny::uiOutput(ns("working"), role = "status"),
                   shiny::uiOutput(ns("result"), `aria-live` = "polite"))
}

# Returns a reactive: what came back last.
panel_server <- function(id, panel, folder, worker, rules) shiny::moduleServer(id, function(input, output, session) {
  question <- shiny::reactive(c(list(text = rules$text(), name = rules$name(), folder = folder), panel$asked(input)))
  asked <- shiny::reactiveVal(FALSE)
  shiny::observeEvent(input$work_out, {
    asked(TRUE)
    worker$ask(id, panel$job, question())
  })
  shiny::observeEvent(input$stop, worker$stop())
  answer <- shiny::reactive(worker$answers[[id]])
  output$working <- shiny::renderUI(working_page(worker$busy(), id, session$ns))
  output$result <- shiny::renderUI(if (asked()) answer_page(answer(), question(), function(value)
    panel$more(value, session$ns)))
  answer
})

# A reactive with a part of what the check found, of rules that are in order. It changes only where the part does, and
# `does` is done with it then: fields that are drawn anew lose the focus and what was chosen.
part_of_check <- function(rules, part, does = function(now) NULL) {
  last <- shiny::reactiveVal(NULL)
  shiny::observe({
    check <- rules$check()$value
    if (!isTRUE(check$ok) || identical(part(check), shiny::isolate(last()))) return()
    last(part(check))
    shiny::isolate(does(last()))
  })
  last
}

# While work of this kind goes on for longer than a blink: how long, and a way to stop.
working_page <- function(busy, kind, ns) {
  if (kind %in% busy$waiting && !identical(busy$kind, kind))
    return(shiny::p(class = "desk-hint", "This waits until what runs is done."))
  if (!identical(busy$kind, kind)) return(NULL)
  shiny::invalidateLater(500)
  seconds <- as.numeric(Sys.time() - busy$since, units = "secs")
  if (seconds > 1) shiny::div(class = "desk-working", sprintf("This is being worked out: %.0f s so far.", seconds),
                              shiny::actionButton(ns("stop"), "Stop", class = "btn-sm btn-outline-danger"))
}

# What came back, grey where the question is another by now.
answer_page <- function(answer, question, more = function(value) NULL) {
  if (is.null(answer)) return(NULL)
  if (!is.null(answer$problem)) return(shiny::p(class = "desk-bad", answer$problem))
  current <- identical(question, answer$args)
  shiny::div(class = if (current) "desk-result" else "desk-result desk-stale",
             if (!current) shiny::p(class = "desk-hint", "This is of the rules before the last change."),
             shiny::HTML(answer$value$html), more(answer$value))
}
