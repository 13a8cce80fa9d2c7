# Players: who is better, how far each is from best play, and where two of them part.

players_panel <- function() desk_panel("Players", "Compare them", job = "job_players",
  fields = function(ns) shiny::tagList(
    shiny::selectInput(ns("other"), "What it costs", character(), selectize = FALSE, width = "12rem"),
    shiny::selectInput(ns("player"), "not to play as", character(), selectize = FALSE, width = "12rem")),
  asked = function(input) list(other = input$other, player = input$player))

# The players that can be chosen are those of the first seat that decides.
players_server <- function(id, rules) shiny::moduleServer(id, function(input, output, session) {
  part_of_check(rules, function(check) as.character(unlist(check$seats[1])), function(names)
    for (field in c("other", "player")) shiny::updateSelectInput(session, field, choices = c("-" = "", names)))
})

job_players <- function(text, name, folder, other = "", player = "") {
  game <- game_at_desk(text, name, folder)
  compared <- compare_players(game)
  parted <- if (nzchar(other) && nzchar(player) && other != player)
    html_at_desk(player_partings(game, player = player, other = other))
  list(html = paste0(html_at_desk(compared), figure_at_desk(compared, max(3, 1.8 + 0.5 * length(compared$players))),
                     parted))
}
