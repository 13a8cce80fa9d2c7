walk <- function(x, visit) {
  if (!is.list(x)) return(invisible())
  if (is.character(x[["op"]])) visit(x)  # exactly: a list by names that users give may have `open`
  for (part in x) if (is.list(part)) walk(part, visit)
}

variables_in <- function(x, ops) {
  ids <- integer()
  walk(x, function(n) if (n$op %in% ops) ids <<- c(ids, if (is.environment(n$var)) n$var$id else -1L))
  ids
}

variables_written <- function(x) {
  ids <- integer()
  walk(x, function(n) {
    if (n$op == "assign") ids <<- c(ids, n$target$var$id)
    if (n$op %in% c("stake", "feed", "share", "settle", "buy")) ids <<- c(ids, n$writes)
    if (n$op %in% c("for_range", "for_each", "for_items", "turns", "ask")) ids <<- c(ids, n$var$id)
    if (n$op %in% c("put", "remove", "deal_to")) ids <<- c(ids, n$place$var$id)
    if (n$op %in% c("move", "shuffle")) for (place in list(n$x, n$from, n$to, n$pile)) if (is.environment(place$var))
      ids <<- c(ids, place$var$id)
    if (n$op %in% c("deal", "deal_to", "burn", "shuffle")) ids <<- c(ids, -1L)
  })
  ids
}

leaves_loop <- function(x) {
  found <- FALSE
  walk(x, function(n) if (n$op %in% c("break", "end_round")) found <<- TRUE)
  found
}
