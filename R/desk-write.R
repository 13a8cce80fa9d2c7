# Writing: the text of the rules, what is wrong with it, its examples.

write_page <- function(id) {
  ns <- shiny::NS(id)
  bslib::card(
    id = ns("card"), class = "desk-write", full_screen = FALSE,
    bslib::card_header(class = "desk-files",
      shiny::selectInput(ns("file"), "File", character(), selectize = FALSE, width = "16rem"),
      shiny::actionButton(ns("save"), "Save", class = "btn-sm btn-primary"),
      shiny::actionButton(ns("save_as"), "Save as", class = "btn-sm btn-outline-primary"),
      shiny::actionButton(ns("new"), "New game", class = "btn-sm btn-outline-primary"),
      shiny::span(class = "desk-state", role = "status", shiny::textOutput(ns("state"), inline = TRUE))),
    shiny::uiOutput(ns("notice")),
    bslib::input_code_editor(ns("text"), language = "r", line_numbers = TRUE, height = "100%",
                             theme_light = "github-light", theme_dark = "github-dark"),
    shiny::p(id = "desk-leave", class = "desk-leave", "Escape, then Tab, leaves the text."),
    shiny::div(class = "desk-problems", role = "region", `aria-label` = "Problems and examples",
               shiny::uiOutput(ns("problems"))))
}

# Returns list(text, name, check, replace): reactives, and a function that puts another text into the editor.
write_server <- function(id, folder, worker, start) shiny::moduleServer(id, function(input, output, session) {
  name <- shiny::reactiveVal(NULL)
  text <- shiny::reactiveVal("")
  saved <- shiny::reactiveVal(NULL)   # the text of the file when it was read or saved last
  notice <- shiny::reactiveVal(NULL)
  tell <- function(message, value) session$sendCustomMessage(message, c(list(editor = session$ns("text")), value))
  show <- function(value, keep_history = FALSE) {
    text(value)
    tell("desk-show", list(text = value, keep = keep_history))
  }
  guarded <- function(work) tryCatch(work, basanos_error = function(e)
    shiny::showNotification(problem_words(e), type = "error", session = session))
  path <- function() desk_path(folder, name())
  choose <- function(chosen) shiny::updateSelectInput(session, "file", choices = desk_games(folder), selected = chosen)

  open_file <- function(chosen) guarded({
    on_disk <- desk_text(desk_path(folder, chosen))
    draft <- draft_of(desk_path(folder, chosen))
    name(chosen)
    saved(on_disk)
    notice(if (!is.null(draft)) "draft")
    show(if (is.null(draft)) on_disk else draft)
    choose(chosen)
  })
  write_file <- function(chosen) guarded({
    save_desk_text(desk_path(folder, chosen), text())
    name(chosen)
    saved(text())
    notice(NULL)
    choose(chosen)
  })

  shiny::observeEvent(TRUE, once = TRUE, {
    tell("desk-words", list(words = desk_words()))
    open_file(start)
  })
  shiny::observeEvent(input$file, if (nzchar(input$file) && !identical(input$file, name())) open_file(input$file))
  # before anything else that came with it, such as Save
  shiny::observeEvent(input$typed, priority = 10, {
    if (!identical(input$typed$name, name())) return()
    text(as_typed(input$typed$text))
    guarded(keep_draft(path(), text()))
  })
  shiny::observe(tell("desk-name", list(name = name())))

  # A file that was changed outside is taken where nothing is unsaved here; else the user is asked.
  shiny::observe({
    shiny::req(name())
    shiny::invalidateLater(1500)
    on_disk <- tryCatch(desk_text(path()), basanos_error = function(e) NULL)
    shiny::isolate({
      if (identical(on_disk, saved())) return()
      if (is.null(on_disk)) notice("gone")
      else if (identical(text(), saved()) || identical(text(), on_disk)) {
        saved(on_disk)
        if (!identical(text(), on_disk)) show(on_disk)
      } else notice("changed")
    })
  })

  shiny::observeEvent(input$save, {
    on_disk <- guarded(desk_text(path()))
    if (!is.null(on_disk) && !identical(on_disk, saved()) && !identical(on_disk, text())) notice("changed")
    else write_file(name())
  })
  shiny::observeEvent(input$take_file, {
    unlink(draft_path(path()))
    open_file(name())
  })
  shiny::observeEvent(input$keep_mine, write_file(name()))
  shiny::observeEvent(input$save_as, shiny::showModal(name_dialog(session$ns, "save_named", "Save as", name())))
  shiny::observeEvent(input$save_named, named_file(function(chosen) write_file(chosen)))
  shiny::observeEvent(input$new, shiny::showModal(new_dialog(session$ns)))
  shiny::observeEvent(input$new_named, named_file(function(chosen) {
    open_file(copied_to_desk(path_of_start(input$start), chosen, folder))
  }))
  # A name that is free, with the ending of rules files.
  named_file <- function(use) guarded({
    chosen <- sub("([.]game)?$", ".game", trimws(input$name))
    if (file.exists(desk_path(folder, chosen)))
      abort_input("file_there", sprintf("`%s` is there already.", chosen), "choose another name; nothing was written")
    use(chosen)
    shiny::removeModal()
  })

  shiny::observe(if (nzchar(text()) && !is.null(name()))
    worker$ask("check", "job_check", list(text = text(), name = name(), folder = folder)))
  check <- shiny::reactive(worker$answers$check)
  shiny::observe({
    problems <- check()$value$problems
    tell("desk-problems", list(problems = if (NROW(problems) > 0) lapply(seq_len(nrow(problems)), function(k)
      as.list(problems[k, c("line", "column", "last_line", "last_column", "message")])) else list()))
  })
  shiny::observeEvent(input$put_in, {
    problem <- check()$value$problems[as.integer(input$put_in), ]
    if (!is.na(problem$put_in)) tell("desk-put-in", as.list(problem))
  })
  output$state <- shiny::renderText(if (identical(text(), saved())) "saved" else "not saved")
  output$notice <- shiny::renderUI(notice_page(notice(), session$ns))
  output$problems <- shiny::renderUI(problems_page(check(), session$ns))
  list(text = text, name = name, check = check, replace = function(value) show(value, keep_history = TRUE))
})

# The words of the language, for colours and completion.
desk_words <- function() unique(vocabulary()$name)

notice_page <- function(what, ns) {
  if (is.null(what)) return(NULL)
  words <- switch(what,
    draft = "This is what you typed last time. The file has another text.",
    changed = "The file was changed outside. Your text is not saved.",
    gone = "The file is not there any more. Save brings it back.")
  shiny::div(class = "alert alert-warning desk-notice", role = "alert", words, if (what != "gone") shiny::tagList(
    shiny::actionButton(ns("take_file"), "Take the file's text", class = "btn-sm btn-outline-primary"),
    shiny::actionButton(ns("keep_mine"), "Save my text", class = "btn-sm btn-outline-primary")))
}

problems_page <- function(check, ns) {
  if (is.null(check)) return(NULL)
  if (!is.null(check$problem)) return(shiny::p(class = "desk-bad", check$problem))
  result <- check$value
  if (NROW(result$problems) > 0) return(shiny::tags$ul(lapply(seq_len(nrow(result$problems)), function(k)
    problem_item(result$problems[k, ], k, ns))))
  tried <- result$examples
  failed <- which(!tried$passed)
  shiny::tagList(
    shiny::p(class = if (length(failed) == 0) "desk-good" else "desk-bad", examples_in_words(tried)),
    if (length(failed) > 0) shiny::tags$ul(lapply(failed, function(k)
      shiny::tags$li(line_button(tried$line[[k]]), sprintf(" %s: %s", tried$text[[k]], tried$got[[k]])))))
}

problem_item <- function(problem, k, ns) shiny::tags$li(
  if (!is.na(problem$line)) line_button(problem$line, problem$column), " ", problem$message,
  if (!is.na(problem$hint)) shiny::span(class = "desk-hint", problem$hint),
  if (!is.na(problem$put_in)) shiny::tags$button(
    type = "button", class = "btn btn-sm btn-outline-primary", `data-desk-input` = ns("put_in"), `data-desk-value` = k,
    sprintf("Put in %s", problem$put_in)))

line_button <- function(line, column = 1) shiny::tags$button(
  type = "button", class = "btn btn-sm btn-link desk-line", `data-desk-line` = line, `data-desk-column` = column,
  sprintf("line %d", as.integer(line)))

examples_in_words <- function(tried) {
  n <- nrow(tried)
  if (n == 0) return("The rules are in order. They have no example.")
  if (all(tried$passed)) return(sprintf("The rules are in order. %s", if (n == 1) "The example holds."
    else sprintf("All %d examples hold.", n)))
  sprintf("The rules are in order, but %d of %d examples fail.", sum(!tried$passed), n)
}

name_dialog <- function(ns, id, title, name, ...) shiny::modalDialog(
  title = title, easyClose = TRUE, ..., shiny::textInput(ns("name"), "Name of the file", name),
  footer = shiny::tagList(shiny::modalButton("Cancel"), shiny::actionButton(ns(id), title, class = "btn-primary")))

new_dialog <- function(ns) {
  families <- game_families()
  name_dialog(ns, "new_named", "New game", "my-stall.game", shiny::selectInput(
    ns("start"), "Begin with", selectize = FALSE, choices = list(
      "A starter" = stats::setNames(paste0("starter:", families), families),
      "A copy of a game of the fair" = stats::setNames(paste0("fair:", fair_games()), fair_games()))))
}

# "starter:dice" or "fair:lantern-tiles".
path_of_start <- function(start) {
  name <- sub("^[^:]*:", "", start)
  if (startsWith(start, "starter:")) one_of_names(name, game_families(), "family_unknown", "starter")
  else one_of_names(name, fair_games(), "file_missing", "game")
  system.file(if (startsWith(start, "starter:")) "starters" else "games", paste0(name, ".game"), package = "basanos")
}
