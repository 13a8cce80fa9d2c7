# A report as one page of HTML: styles, script and figures inside, nothing from a network.

report_html <- function(report) {
  need_package("htmltools", "writes HTML")
  h <- htmltools::tags
  several <- length(report$games) > 1
  title <- paste(vapply(report$games, `[[`, "", "title"), collapse = ", ")
  inside <- function(file) htmltools::HTML(paste(readLines(system.file("report", file, package = "basanos"),
                                                           encoding = "UTF-8"), collapse = "\n"))
  body <- h$body(
    h$a(class = "skip", href = "#main", "To the contents"),
    h$header(if (several) list(h$h1("The fair"), page_contents(report))),
    h$main(id = "main", if (several) h$section(id = "fair", html_sections(list(report$fair))),
           lapply(report$games, page_of_game, level = if (several) 2 else 1)),
    h$footer("Written by basanos. The details say what was counted exactly and what was sampled."),
    h$script(inside("page.js")))
  head <- h$head(h$meta(charset = "utf-8"), h$meta(name = "viewport", content = "width=device-width, initial-scale=1"),
                 h$title(title), h$link(rel = "icon", href = "data:,"), h$style(inside("page.css")))
  c("<!DOCTYPE html>", with_glossary(as.character(htmltools::doRenderTags(h$html(lang = "en", head, body)))))
}

page_contents <- function(report)
  htmltools::tags$nav(`aria-label` = "Games", htmltools::tags$ul(lapply(report$games, function(g)
    htmltools::tags$li(htmltools::tags$a(href = paste0("#", g$name), g$title)))))

# One game: its headlines, its contents, its parts, and how it was made. `level` is that of its heading.
page_of_game <- function(game, level) {
  h <- htmltools::tags
  id <- function(part) paste(game$name, part, sep = "-")
  heading <- function(text, deeper) htmltools::tag(paste0("h", level + deeper), list(text))
  shown <- parts_shown(game$parts)
  detailed <- parts_detailed(game$parts)
  links <- c(lapply(shown, function(p) h$li(h$a(href = paste0("#", id(p$id)), p$title))),
             list(h$li(h$a(href = paste0("#", id("details")), "Details"))))
  h$article(id = game$name, heading(game$title, 0), if (!is.null(game$line)) h$p(class = "line", game$line),
            h$ul(class = "headlines", lapply(game$headlines, h$li)),
            if (!is.null(game$board)) h$section(class = "board", html_sections(list(game$board), level + 1, level + 1)),
            h$nav(`aria-label` = paste("Parts of", game$title), h$ul(links)),
            lapply(shown, function(p)
              h$section(id = id(p$id), heading(p$title, 1), page_of_part(p, id(p$id), level + 2))),
            h$section(id = id("details"), heading(details_title, 1), lapply(detailed, function(p)
              h$section(class = "details", heading(p$title, 2), html_sections(p$details, level + 3, level + 3))),
              h$section(id = id("made"), class = "details", heading("How this was made", 2),
                        html_sections(list(game$made), level + 3))))
}

details_title <- "Details: all numbers, and how they were found"

parts_detailed <- function(parts) Filter(function(p) length(p$details) > 0, parts)

parts_shown <- function(parts) Filter(function(p) length(p$sections) + length(p$figures) > 0 || !is.null(p$card), parts)

page_of_part <- function(part, id, level) {
  heartbeat()
  if (!is.null(part$card)) return(page_of_card(part$card, level))
  figures <- lapply(seq_along(part$figures), function(k) {
    f <- part$figures[[k]]
    svg <- if (is.null(f$svg)) drawn_svg(f$plot, f$alt, height = f$height) else f$svg
    htmltools::tags$figure(htmltools::HTML(own_names(svg, sprintf("%s-%d", id, k))))
  })
  list(if (!is.null(part$what_if)) page_of_what_if(part$what_if, level), figures,
       html_sections(part$sections, level, level))
}

# The rule card, each heading with its items; indented items are lists in lists.
page_of_card <- function(card, level) {
  h <- htmltools::tags
  h$div(class = "card columns", lapply(names(card), function(name)
    h$div(htmltools::tag(paste0("h", level), list(name)), nested_items(unname(card[[name]])))))
}

nested_items <- function(items) {
  h <- htmltools::tags
  depth <- nchar(sub("[^ ].*", "", items))
  top <- which(depth == min(depth))
  h$ul(lapply(seq_along(top), function(k) {
    last <- if (k < length(top)) top[[k + 1]] - 1 else length(items)
    below <- items[seq_len(last - top[[k]]) + top[[k]]]
    h$li(trimws(items[[top[[k]]]]), if (length(below) > 0) nested_items(below))
  }))
}

# The sliders, hidden until the script shows them, and the table that they change: without a script it has the values
# of the file.
page_of_what_if <- function(what_if, level) {
  h <- htmltools::tags
  data <- what_if$data
  sliders <- lapply(data$settings, function(s) {
    said <- s$values[[s$now + 1]]
    h$label(gsub("_", " ", s$name), h$input(type = "range", min = 0, max = length(s$values) - 1, step = 1,
                                            value = s$now,
                                            `aria-valuetext` = said), h$output(said))
  })
  rows <- lapply(seq_along(data$measures), function(k) {
    m <- data$measures[[k]]
    value <- what_if$today[[k]]
    said <- if (m$kind == "number") fixed_text(value, 3) else sprintf("%.2f%%", 100 * value)
    width <- sprintf("width:%.2f%%", 100 * value / data$widest)
    bar <- if (m$kind == "outcome") list(h$span(class = "bar", style = width), h$span(class = "bar", style = width))
    h$tr(`data-measure` = k - 1, h$th(scope = "row", class = "text", m$name), h$td(class = "number", said),
         h$td(class = "number chosen", said), h$td(class = "number change", "-"), h$td(class = "bar-cell", bar))
  })
  heads <- lapply(c("", "as in the file", "as turned", "change"), function(t) h$th(scope = "col", class = "number", t))
  json <- gsub("</", "<\\/", jsonlite::toJSON(data, auto_unbox = TRUE, digits = NA, na = "null"), fixed = TRUE)
  h$div(`data-what-if` = "", h$script(type = "application/json", htmltools::HTML(json)),
        h$div(class = "turn", hidden = NA, sliders, h$button(type = "button", "Back to the file's values")),
        h$div(class = "curve", `data-curve` = ""),
        h$div(class = "scroll bars", tabindex = "0", role = "region", `aria-label` = "What if", h$table(
          h$caption("Turned, and as in the file (thin bars)"),
          h$thead(h$tr(heads, h$th(scope = "col", class = "text", "share of rounds"))), h$tbody(rows))))
}
