# Who may ask: only a page that was opened with the secret of this desk, on this machine. Another page that is open in
# the same browser has neither the secret nor the cookie that stands for it.

new_secret <- function() {
  if (!file.exists("/dev/urandom"))
    return(substr(digest::digest(list(Sys.time(), Sys.getpid(), tempfile()), algo = "sha256"), 1, 48))
  source <- file("/dev/urandom", "rb", raw = TRUE)
  on.exit(close(source))
  paste(as.character(readBin(source, "raw", 24L)), collapse = "")
}

# Does this request come from the desk's own page? `door`: list(secret, port).
may_enter <- function(request, door) {
  hosts <- sprintf(c("127.0.0.1:%d", "localhost:%d"), door$port)
  host <- request$HTTP_HOST
  origin <- request$HTTP_ORIGIN
  shown <- c(query_value(request$QUERY_STRING, "key"), cookie_value(request$HTTP_COOKIE, door_cookie(door)))
  isTRUE(host %in% hosts) && (is.null(origin) || origin %in% paste0("http://", hosts)) && door$secret %in% shown
}

# Cookies do not know of ports: each desk has one of its own.
door_cookie <- function(door) sprintf("basanos_desk_%d", door$port)

query_value <- function(query, name) {
  parts <- strsplit(sub("^[?]", "", if (is.null(query)) "" else query), "&", fixed = TRUE)[[1]]
  sub("^[^=]*=", "", parts[startsWith(parts, paste0(name, "="))])
}

cookie_value <- function(cookies, name) {
  parts <- trimws(strsplit(if (is.null(cookies)) "" else cookies, ";", fixed = TRUE)[[1]])
  sub("^[^=]*=", "", parts[startsWith(parts, paste0(name, "="))])
}

# The app behind the door, and beside it the pages that were written in the folder.
with_door <- function(app, door, folder) {
  inner <- app$httpHandler
  app$httpHandler <- function(request) {
    if (!may_enter(request, door)) return(shiny::httpResponse(403L, "text/plain", door_closed))
    if (startsWith(request$PATH_INFO, page_place)) return(written_page(request$PATH_INFO, folder))
    answer <- inner(request)
    if (!is.null(answer$headers))
      answer$headers[["Set-Cookie"]] <- sprintf("%s=%s; HttpOnly; SameSite=Strict; Path=/", door_cookie(door),
                                                door$secret)
    answer
  }
  app
}

door_closed <- "This desk opens with the address that `basanos desk` tells, on this machine.\n"

page_place <- "/pages/"

# A page of the folder, shut off from the desk: its scripts run, but may ask the desk for nothing.
written_page <- function(place, folder) {
  path <- tryCatch(desk_path(folder, utils::URLdecode(substring(place, nchar(page_place) + 1)), "html"),
                   error = function(e) NULL)  # also of bytes that are no text
  if (is.null(path) || !utils::file_test("-f", path))
    return(shiny::httpResponse(404L, "text/plain", "There is no such page.\n"))
  shiny::httpResponse(200L, "text/html; charset=UTF-8", readBin(path, "raw", file.size(path)),
                      list(`Content-Security-Policy` = "sandbox allow-scripts", `Cache-Control` = "no-store"))
}
