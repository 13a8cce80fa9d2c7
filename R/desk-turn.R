# Turning: a slider for each setting and pay. The odds follow; a click writes the values into the rules.

turn_page <- function(id) {
  ns <- shiny::NS(id)
  shiny::div(
    shiny::tags$details(class = "desk-turn", shiny::tags$summary("Turn settings and pays"),
                        shiny::uiOutput(ns("knobs"))),
    shiny::uiOutput(ns("turned"), role = "status"))
}

# Returns a reactive list of the values that are not those of the rules.
turn_server <- function(id, folder, worker, rules) shiny::moduleServer(id, function(input, output, session) {
  times <- shiny::reactiveVal(0)  # that the sliders were drawn
  knobs <- part_of_check(rules, function(check) check$knobs, function(knobs) times(times() + 1))
  # New sliders have new names: the values of the old ones say nothing of the new rules.
  id_of <- function(k) paste("knob", times(), k, sep = "_")
  turned <- shiny::debounce(shiny::reactive({
    values <- lapply(seq_along(knobs()), function(k) input[[id_of(k)]])
    changed <- which(vapply(seq_along(values), function(k)
      !is.null(values[[k]]) && !isTRUE(all.equal(as.numeric(values[[k]]), as.numeric(knobs()[[k]]$value))), NA))
    stats::setNames(lapply(values[changed], as.numeric), vapply(knobs()[changed], `[[`, "", "name"))
  }), 200)
  shiny::observeEvent(input$back, for (k in seq_along(knobs())) {
    if (knobs()[[k]]$kind == "yesno") shiny::updateCheckboxInput(session, id_of(k), value = knobs()[[k]]$value)
    else shiny::updateSliderInput(session, id_of(k), value = knobs()[[k]]$value)
  })
  shiny::observeEvent(input$write, ask_to_write(worker, rules, folder, turned()))
  shiny::observeEvent(worker$answers$write, {
    written <- worker$answers$write
    if (!is.null(written$problem)) shiny::showNotification(written$problem, type = "error", session = session)
    else if (identical(written$args$text, rules$text())) rules$replace(written$value)
  })
  output$knobs <- shiny::renderUI({
    if (length(knobs()) == 0) return(shiny::p("These rules have no setting and no pay that is a plain number."))
    shiny::div(class = "desk-knobs", lapply(seq_along(knobs()), function(k)
      knob_page(knobs()[[k]], session$ns(id_of(k)))))
  })
  shiny::outputOptions(output, "knobs", suspendWhenHidden = FALSE)
  output$turned <- shiny::renderUI({
    if (length(turned()) == 0) return(NULL)
    shiny::div(class = "desk-row", shiny::p(sprintf("Turned: %s.", named_values(turned()))),
               shiny::actionButton(session$ns("write"), "Write into the rules", class = "btn-sm btn-primary"),
               shiny::actionButton(session$ns("back"), "Back to the rules", class = "btn-sm btn-outline-primary"))
  })
  turned
})

# What comes back is put into the editor by turn_server().
ask_to_write <- function(worker, rules, folder, set)
  worker$ask("write", "job_write", list(text = rules$text(), name = rules$name(), folder = folder, set = set))

knob_page <- function(knob, id) {
  label <- sprintf("%s (%s in the rules)", plain_name(knob$name), if (knob$kind == "yesno")
    if (knob$value) "yes" else "no" else plain_number(knob$value))
  if (knob$kind == "yesno") return(shiny::checkboxInput(id, label, knob$value))
  shiny::sliderInput(id, label, knob$from, knob$to, knob$value, knob$step, ticks = FALSE, width = "100%")
}
