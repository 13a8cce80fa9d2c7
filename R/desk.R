#' The desk: a page on this machine to write and try a game
#'
#' Opens a page in the browser: the text of the rules on one side, on the other what they do, as one types. What is
#' wrong stands beside its line, with a hint; the odds, what a change moved, sliders for settings and pays, and the rule
#' card follow. It reads and writes the rules files of one folder. What was typed and not saved is kept beside its file
#' as a draft, and is there again when the page is opened the next time.
#'
#' The page answers only this machine, and only who has the address with its secret. It goes on until it is stopped
#' (Ctrl-C), and works in another R process, so that it never waits.
#'
#' @param game A rules file in the folder, or the name of one of the fair's games, which is copied there; by default
#'   the first rules file of the folder, or a starter.
#' @param folder The folder whose rules files it opens.
#' @param port The port, a whole number; by default one that is free.
#' @param launch Open it in the browser?
#' @return Nothing: it runs until it is stopped.
#' @section Errors: `package_needed`, `desk_name`, `file_missing`.
#' @export
#' @examples
#' \dontrun{
#' desk("lantern-tiles", folder = tempdir())
#' }
desk <- function(game = NULL, folder = ".", port = NULL, launch = interactive()) {
  for (package in c("shiny", "bslib", "callr", "htmltools")) need_package(package, "makes the page of the desk")
  if (!dir.exists(folder)) abort_input("file_missing", sprintf("There is no folder `%s`.", folder), "make it first")
  folder <- normalizePath(folder)
  start <- file_to_start(game, folder)
  if (is.null(port)) port <- httpuv::randomPort(host = "127.0.0.1")
  check_count(port, "port", 65535, "write port = 8080")
  door <- list(secret = new_secret(), port = as.integer(port))
  address <- sprintf("http://127.0.0.1:%d/?key=%s", door$port, door$secret)
  message("The desk: ", address, "\nCtrl-C ends it.")
  pool <- new_pool(2)
  on.exit(close_pool(pool))
  shiny::runApp(desk_app(folder, start, door, pool), port = door$port, host = "127.0.0.1", quiet = TRUE,
                launch.browser = if (isTRUE(launch)) function(url) utils::browseURL(address) else FALSE)
  invisible()
}

# The name of the file to open first. A game of the fair is copied into the folder, a folder without rules gets a
# starter.
file_to_start <- function(game, folder) {
  there <- desk_games(folder)
  if (is.null(game) && length(there) > 0) return(there[[1]])
  if (is.null(game)) return(copied_to_desk(system.file("starters", "dice.game", package = "basanos"), "my-stall.game",
                                           folder))
  path <- find_rules(if (file.exists(file.path(folder, game))) file.path(folder, game) else game)
  if (identical(dirname(normalizePath(path)), folder)) return(basename(path))
  if (path == game) abort_input("desk_name", sprintf("`%s` is not in the folder of the desk.", game),
                                sprintf("start it there: folder = \"%s\" (--folder)", dirname(game)))
  copied_to_desk(path, basename(path), folder)
}

desk_app <- function(folder, start, door, pool) {
  server <- function(input, output, session) {
    if (!may_enter(session$request, door)) return(session$close())
    # What is typed is checked whatever else goes on.
    checker <- new_worker(session, pool)
    counter <- new_worker(session, pool)
    other <- new_worker(session, pool)
    rules <- write_server("write", folder, checker, start)
    turned <- turn_server("turn", folder, checker, rules)
    odds_server("odds", folder, counter, rules, turned)
    card_server("card", rules)
    play_server("play", folder, other, rules)
    panels <- desk_panels()
    given <- Map(panel_server, names(panels), panels, MoreArgs = list(folder, other, rules))
    targets_server("balance", given$balance, folder, checker, rules)
    players_server("players", rules)
  }
  with_door(shiny::shinyApp(desk_page(), server), door, folder)
}

desk_page <- function() {
  inside <- function(file) paste(readLines(system.file("desk", file, package = "basanos"), encoding = "UTF-8"),
                                 collapse = "\n")
  bslib::page_fillable(
    title = "Basanos desk", theme = bslib::bs_theme(version = 5), lang = "en", padding = "0.6rem",
    shiny::tags$head(shiny::tags$link(rel = "icon", href = "data:,"),
                     shiny::tags$style(htmltools::HTML(paste0(colours_of_figures(), inside("desk.css")))),
                     shiny::tags$script(htmltools::HTML(inside("desk.js")))),
    shiny::tags$header(class = "desk-header", shiny::h1("Basanos desk"),
                       bslib::input_dark_mode(id = "dark", `aria-label` = "Light or dark")),
    shiny::tags$main(class = "desk", bslib::layout_columns(
      col_widths = bslib::breakpoints(sm = 12, lg = c(6, 6)), fillable = TRUE, write_page("write"),
      do.call(bslib::navset_card_tab, c(list(
        id = "shown", bslib::nav_panel("Odds", turn_page("turn"), odds_page("odds")),
        bslib::nav_panel("Rule card", shiny::uiOutput("card-card")), play_page("play")),
        unname(Map(panel_page, names(desk_panels()), desk_panels())))))))
}

# The colours of the report's page, which figures name, by the light of the desk.
colours_of_figures <- function() {
  style <- paste(readLines(system.file("report", "page.css", package = "basanos")), collapse = "\n")
  blocks <- regmatches(style, gregexpr(":root \\{[^}]*\\}", style))[[1]]
  sprintf("%s\n%s\n", blocks[[1]], sub(":root", "[data-bs-theme=\"dark\"]", blocks[[2]], fixed = TRUE))
}

# The rule card, in the words of the rules.
card_server <- function(id, rules) shiny::moduleServer(id, function(input, output, session) {
  shown <- shiny::reactiveVal(NULL)
  shiny::observe(if (isTRUE(rules$check()$value$ok)) shown(rules$check()$value[c("title", "card")]))
  output$card <- shiny::renderUI(if (!is.null(shown())) shiny::tagList(shiny::h2(shown()$title),
                                                                       shiny::HTML(shown()$card)))
})
