# Declarations at the top of a file: settings, seats, dice, signs, state.
# --- settings ---------------------------------------------------------------

check_setting <- function(context, name, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(declare(context, name$name, name$at, "setting", type = t_unknown))
  scope <- new_scope("a setting")
  if (args$start$kind == "call" && args$start$fn == "each") return(check_setting_each(context, scope, name, node, args))
  start <- if (args$start$kind == "text") typed("text", t_text, args$start$at, const = TRUE)
    else check_value(context, scope, args$start)
  if (!start$const || !is_kind(start$type, "whole", "fraction", "yesno", "unknown")) {
    report(context, "setting_type", args$start$at, "A setting starts as a number, or as yes or no.",
           "write setting(7, from = 1, to = 20)")
    start <- broken(args$start$at)
  }
  ends <- lapply(args[c("from", "to")],
                 function(end) if (!is.null(end)) number_value(context, scope, end, "The end of a setting's range"))
  names(ends) <- c("from", "to")
  type <- start$type
  if (is_kind(type, "yesno") && !all(vapply(ends, is.null, NA))) {
    report(context, "setting_type", node$at, sprintf("`%s` is yes or no and has no range.", name$name),
           "remove from and to")
  }
  if (is_number(type) && any(vapply(ends, function(e) !is.null(e) && is_kind(e$type, "fraction"), NA)))
    type <- t_fraction
  if (declare(context, name$name, name$at, "setting", type = type)) {
    context$settings[[name$name]] <- list(name = name$name, type = type, start = convert(start, type), from = ends$from,
                                          to = ends$to, at = name$at)
  }
}

# setting(each(seat, ann = 0.7, bo = 0.6)): a setting for each seat, called aim[ann] and so on.
check_setting_each <- function(context, scope, name, node, args) {
  starts <- args$start$args[-1]
  given <- args$start$names[-1]
  if (!identical(args$start$args[[1]]$name, "seat") || !setequal(given, context$seats[table_seats(context)])) {
    report(context, "each_of", args$start$at, "A setting for each seat gives every seat its value.",
           sprintf("write setting(each(seat, %s))", paste(context$seats[table_seats(context)], "= 1", collapse = ", ")))
    return(declare(context, name$name, name$at, "setting", type = t_unknown))
  }
  values <- lapply(starts, number_value, context = context, scope = scope, what = "A setting")
  type <- if (any(vapply(values, function(v) is_kind(v$type, "fraction"), NA))) t_fraction else t_whole
  ends <- lapply(stats::setNames(nm = c("from", "to")),
                 function(end) if (!is.null(args[[end]]))
                   number_value(context, scope, args[[end]], "The end of a setting's range"))
  variable <- new_variable(context, name$name, t_each(type, list(seat_axis(context))), name$at,
                           "setting")
  variable$settings <- sprintf("%s[%s]", name$name, context$seats[table_seats(context)])
  if (!declare(context, name$name, name$at, "setting", type = variable$type, variable = variable)) return(invisible())
  for (k in table_seats(context)) {
    setting <- variable$settings[[k]]
    context$settings[[setting]] <- list(name = setting, type = type,
                                        start = convert(values[[match(context$seats[[k]], given)]], type),
                                        from = ends$from, to = ends$to, at = name$at)
  }
}

# --- seats ------------------------------------------------------------------

check_seats <- function(context, node) {
  args <- match_arguments(context, node)
  for (a in args$dots) {
    if (a$kind != "name") {
      report(context, "name_wanted", a$at, "A seat is a bare name.", "write seats(left, right)")
      next
    }
    if (declare(context, a$name, a$at, "seat")) {
      context$labels <- c(context$labels, a$name)
      context$seats <- c(context$seats, a$name)
    }
  }
  if (length(args$dots) == 0)
    report(context, "argument_missing", node$at, "`seats` needs at least one seat.", "write seats(guest)")
  if (is.null(args$at_least)) return(invisible())
  least <- value_of(context, new_scope("seats"), args$at_least, t_whole, "The least number of seats")
  if (least$op != "lit" || least$value < 1 || least$value > length(context$seats)) {
    return(report(context, "seats_least", args$at_least$at,
                  sprintf("`at_least` is a number from 1 to %d.", length(context$seats)),
                  "leave it out where every seat is always taken"))
  }
  bound <- function(n) literal(n, t_whole, args$at_least$at)
  context$settings$seated <- list(name = "seated", type = t_whole, start = bound(length(context$seats)), from = least,
                                  to = bound(length(context$seats)), at = args$at_least$at)
  declare(context, "seated", args$at_least$at, "setting", type = t_whole)
}

# bettors(guest): after the seats at the table.
check_bettors <- function(context, node) {
  before <- length(context$seats)
  for (a in match_arguments(context, node)$dots) {
    if (a$kind != "name") report(context, "name_wanted", a$at, "A seat is a bare name.", "write bettors(guest)")
    else if (declare(context, a$name, a$at, "seat")) {
      context$labels <- c(context$labels, a$name)
      context$seats <- c(context$seats, a$name)
    }
  }
  if (length(node$args) == 0)
    report(context, "argument_missing", node$at, "`bettors` needs at least one seat.", "write bettors(guest)")
  context$bettors <- context$bettors + length(context$seats) - before
}

# --- dice -------------------------------------------------------------------

check_die <- function(context, name, node) {
  args <- match_arguments(context, node)
  got <- faces_of(context, new_scope("a die"), node, args$dots, args$dot_names, "die")
  if (is.null(got)) got <- list(faces = NULL, type = t_unknown)
  if (!is.null(got$faces) && got$faces$how == "range" && !(got$faces$low$const && got$faces$high$const)) {
    report(context, "not_constant", node$at, "The faces of a die must be numbers or settings.",
           "for a range that changes in a round write pick(low:high)")
  }
  members <- if (is_kind(got$type, "label")) got$type$members
  if (!is.null(members)) got$type$set <- name$name
  declare(context, name$name, name$at, "die", faces = got$faces, type = got$type, members = members, node = node)
}

# --- modes ------------------------------------------------------------------

check_mode <- function(context, name, node) {
  args <- match_arguments(context, node)
  values <- list()
  for (i in seq_along(args$dots)) {
    setting <- args$dot_names[[i]]
    d <- context$settings[[setting]]
    if (is.null(d) && setting %in% context$seats) {
      context$mode_players[[name$name]][[setting]] <- args$dots[[i]]
      next
    }
    if (is.null(d)) {
      report(context, "mode_setting", args$dot_at[[i]],
             if (nzchar(setting)) sprintf("There is no setting `%s`.", setting)
             else "A mode gives settings by their names.", or_spelling(did_you_mean(setting, names(context$settings))))
      next
    }
    v <- value_of(context, new_scope("a mode"), args$dots[[i]], d$type, sprintf("The setting `%s`", setting))
    if (!v$const)
      report(context, "not_constant", args$dots[[i]]$at, "A mode gives numbers, or yes or no.", "write a number")
    values[[setting]] <- v
  }
  if (declare(context, name$name, name$at, "mode")) context$modes[[name$name]] <- values
}

# --- state ------------------------------------------------------------------

check_state <- function(context, node) {
  args <- match_arguments(context, node)
  lasts <- lifetime(context, args$lasts)
  scratch <- !is.null(args$scratch) && yes_or_no(context, args$scratch, "`scratch`")
  for (i in seq_along(args$dots)) {
    name <- args$dot_names[[i]]
    part <- args$dots[[i]]
    if (!nzchar(name)) {
      report(context, "name_wanted", part$at, "A state needs a name and a value at the start.",
             "write state(score = 0)")
      next
    }
    declare_state(context, name, part, lasts, args$dot_at[[i]])
    if (!is.null(context$state[[name]])) context$state[[name]]$scratch <- scratch
  }
}

declare_state <- function(context, name, part, lasts, at) {
  scope <- new_scope("the start of what is remembered")
  made <- state_part(context, scope, part)
  if (is.null(made))
    return(declare(context, name, at, "state", variable = new_variable(context, name, t_unknown, at, "state")))
  inner <- if (is_kind(made$type, "each")) made$type$of else made$type
  if (!is_plain(inner) && !is_collection(inner)) {
    report(context, "state_type", part$at, sprintf("`%s` cannot be remembered as %s.", name, describe_type(inner)),
           "start it as a number, yes or no, a label, nobody, a list or a bag")
    made$type <- t_unknown
  }
  variable <- new_variable(context, name, made$type, part$at, "state", key = paste("state", name))
  variable$seen_by <- made$seen_by
  variable$hide_size <- isTRUE(made$hide_size)
  if (!declare(context, name, at, "state", variable = variable)) return(invisible())
  context$state[[name]] <- list(name = name, variable = variable, start = made$start, room = made$room, lasts = lasts,
                                at = part$at)
}

# list(type, start (a node), room, seen_by) of what is remembered, or NULL.
state_part <- function(context, scope, node) {
  if (node$kind == "call" && node$fn == "each") return(state_each(context, scope, node))
  if (node$kind == "call" && node$fn %in% c("list", "bag")) return(state_collection(context, scope, node))
  if (node$kind == "call" && node$fn == "one") return(state_one(context, scope, node))
  start <- check_value(context, scope, node)
  list(type = start$type, start = start, seen_by = "everyone")
}

state_collection <- function(context, scope, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(NULL)
  of <- item_of_collection(context, args$of)
  seen_by <- seen_by_of(context, scope, args$seen_by)
  if (is.null(of)) return(NULL)
  room <- if (!is.null(args$room)) value_of(context, scope, args$room, t_whole, "The room of a list")
  if (!is.null(room) && !room$const && !is_unknown(room$type))
    report(context, "not_constant", args$room$at, "The room of a list must be a number or a setting.",
           "write the most that it can ever hold")
  start <- if (!is.null(args$start)) collection_start(context, scope, args$start, args$of, of)
  hide_size <- !is.null(args$hide_size) && yes_or_no(context, args$hide_size, "`hide_size`")
  list(type = t_collection(node$fn, of), room = room, start = start, seen_by = seen_by, hide_size = hide_size)
}

# The items of a list or bag at the start: `all` of its set, or c(...).
collection_start <- function(context, scope, node, of_node, of, forced = FALSE) {
  if (identical(node$name, "all")) {
    set <- if (of_node$kind == "name") set_named(context, of_node$name)
    if (!is.null(set)) return(set_collection(context, set, node$at))
    v <- check_value(context, scope, of_node)
    if (is_kind(v$type, "range")) return(v)
    report(context, "wrong_type", node$at, "`all` needs a set of names or a range.",
           "write the items at the start: start = c(...)")
    return(NULL)
  }
  v <- check_value(context, scope, node, t_collection("list", of))
  if (is_unknown(v$type)) return(NULL)
  if (of$kind == "card" && !forced) {
    report(context, "move_from", node$at, "Cards start in their deck.", "deal or move them in play")
    return(NULL)
  }
  if (is_collection(v$type) && fits_type(v$type$of, of)) return(v)
  wrong_type(context, v, t_collection("list", of), "Its start")
  NULL
}

# one(of, start): one item, or none yet
state_one <- function(context, scope, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(NULL)
  of <- item_of_collection(context, args$of)
  seen_by <- seen_by_of(context, scope, args$seen_by)
  if (is.null(of)) return(NULL)
  if (is_kind(of, "label", "card", "word")) of$none <- TRUE
  start <- if (is.null(args$start)) literal(0, of, node$at)
    else value_of(context, scope, args$start, of, "The item at the start")
  list(type = of, start = start, seen_by = seen_by)
}

# everyone, nobody, owner (inside each(seat, ...)) or the number of a seat
seen_by_of <- function(context, scope, node) {
  if (is.null(node)) return("everyone")
  name <- if (node$kind == "name") node$name else ""
  if (name %in% c("everyone", "nobody") || (name == "owner" && isTRUE(scope$inside_each))) return(name)
  seat <- match(name, context$seats)
  if (!is.na(seat)) return(seat)
  report(context, "seen_by_whom", node$at, "`seen_by` is everyone, nobody, a seat, or owner inside each(seat, ...).",
         if (name == "owner") "only what each seat has has an owner: each(seat, one(cards, seen_by = owner))"
         else or_spelling(did_you_mean(name, c("everyone", "nobody", "owner", context$seats)),
                          "the seat that is asked may also be named, as in ask(s, bid = one_of(1:3), seen_by = s)"))
  "everyone"
}

# list(cube), bag(shoe), list(1:10), one(seats), list(secrets), list(marks)
item_of_collection <- function(context, node) {
  if (node$kind == "name") {
    set <- set_named(context, node$name)
    if (!is.null(set)) return(set$type)
    if (node$name == "marks") return(t_marks)
    d <- context$names[[node$name]]
    if (identical(d$kind, "die") || identical(d$kind, "deck")) return(d$type)
    if (identical(d$kind, "unread")) return(NULL)
  }
  if (node$kind == "call" && node$fn == ":") return(t_whole)
  report(context, "item_kind", node$at,
         paste0("A list or bag holds faces of a die, cards, names, signs, words, seats, or numbers of ", "a range."),
         if (identical(node$name, "seat")) "write one(seats), list(seats) or bag(seats)"
         else if (node$kind == "number")
           "say what kind it holds, then what it starts with: list(1:10, start = c(1, 2, 3))"
         else "write list(cube, room = 5), bag(shoe) or list(1:10, room = 5)")
  NULL
}

usual_room <- 100
