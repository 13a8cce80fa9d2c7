# A variant says "that game, plus this, minus that": the declarations of the rules it is based on come first, with
# those left out that it replaces or does without. Their lines are numbered after the variant's own.

max_variants <- 8L

# list(nodes, diagnostics, unread, source) with what the file is based on joined in; `source$parts` says which lines
# are of which file.
with_base <- function(parsed, source, depth = 1L) {
  parsed$source <- source
  is_base <- vapply(parsed$nodes, function(n) n$kind == "call" && n$fn == "based_on", NA)
  if (!any(is_base)) return(without_names(nothing_to_amend(parsed)))
  node <- parsed$nodes[[which(is_base)[[1]]]]
  refuse <- function(message, hint) {
    parsed$diagnostics <- c(parsed$diagnostics, list(diagnostic("base_missing", message, hint, node$at)))
    parsed$nodes <- parsed$nodes[!is_base]
    parsed$unread <- c(parsed$unread, "play", "outcomes", "seats")  # the base would have had them
    without_names(parsed)
  }
  name <- if (length(node$args) == 1 && node$args[[1]]$kind == "text") node$args[[1]]$value
  if (is.null(name))
    return(refuse("`based_on` takes the name of a game, or of a rules file beside this one.",
                  "write based_on(\"tide-signs\")"))
  if (sum(is_base) > 1 || depth > max_variants)
    return(refuse("A variant is based on one game, and not in a circle.", "keep one based_on(...)"))
  path <- base_path(name, source)
  if (is.null(path))
    return(refuse(sprintf("No game of the fair and no file beside these rules is called `%s`.", name),
                  or_spelling(did_you_mean(name, fair_games()))))
  base_source <- read_source(path)
  base <- with_base(parse_rules(base_source), base_source, depth + 1L)
  joined_variant(parsed, parsed$nodes[!is_base], base, source)
}

nothing_to_amend <- function(parsed) {
  amends <- vapply(parsed$nodes, is_call, NA, fn = "amend")
  parsed$diagnostics <- c(parsed$diagnostics, lapply(parsed$nodes[amends], function(n)
    amend_wrong(n$at, "Only a variant amends: these rules are based on no others.",
                "write based_on(\"tide-signs\") first")))
  parsed$nodes <- parsed$nodes[!amends]
  parsed
}

base_path <- function(name, source) {
  beside <- if (!is.null(source$folder) && !grepl("[/\\\\]", name))
    file.path(source$folder, c(name, paste0(name, ".game")))
  known <- c(beside, system.file("games", paste0(sub("\\.game$", "", name), ".game"), package = "basanos"))
  known <- known[file.exists(known) & !dir.exists(known)]
  if (length(known) > 0) known[[1]]
}

joined_variant <- function(parsed, added, base, source) {
  shift <- length(source$lines)
  is_amend <- vapply(added, is_call, NA, fn = "amend")
  amends <- added[is_amend]
  added <- added[!is_amend]
  amended <- amended_nodes(lapply(base$nodes, shift_node, by = shift), amends)
  replaced <- vapply(amended$nodes, replaced_by, NA, added = added)
  parsed$variant <- list(base = base$source$name, changes = variant_changes(added, amended$nodes[replaced], amends))
  parsed$nodes <- c(amended$nodes[!replaced], added)
  parsed$diagnostics <- c(parsed$diagnostics, lapply(base$diagnostics, shift_diagnostic, by = shift),
                          amended$diagnostics)
  parsed$unread <- c(parsed$unread, base$unread)
  parts <- if (is.null(base$source$parts)) list(list(from = 1L, name = base$source$name)) else base$source$parts
  parsed$source$parts <- c(list(list(from = 1L, name = source$name)),
                           lapply(parts, function(p) { p$from <- p$from + shift; p }))
  parsed$source$lines <- c(source$lines, base$source$lines)
  parsed$source$folders <- c(source$folder, base$source$folders, base$source$folder)
  without_names(parsed)
}

# What the variant does to its base: a data frame with `what` and `change`.
variant_changes <- function(added, replaced, amends) {
  was <- vapply(replaced, name_of_change, "")
  now <- vapply(added, name_of_change, "")
  what <- unique(was)
  how <- vapply(what, function(name) {
    lines <- c(sum(was == name), sum(now == name))
    if (all(lines == 1)) "replaced" else sprintf("replaced (%d by %d)", lines[[1]], lines[[2]])
  }, "")
  amended <- unique(vapply(amends, function(n) name_of_change(n$args[[1]]), ""))
  left_out <- unlist(lapply(Filter(function(n) is_call(n, "without"), added), function(n) lapply(n$args, label_text)))
  data.frame(what = c(what, amended, left_out),
             change = c(how, rep("amended", length(amended)), rep("left out", length(left_out))))
}

# The name that a declaration gives, or its word.
name_of_change <- function(node) {
  name <- declared_name(node)
  if (nzchar(name)) name else if (node$kind == "call") node$fn else ""
}

# Words that stand once in a game: the variant's own takes the place.
single_words <- c("title", "seats", "play", "outcomes", "match", "sitting", "because", "tokens")

# Words that stand once for each seat or bet, which comes first in them.
words_by_first <- c("bets", "settle", "wallet")

replaced_by <- function(node, added) {
  name <- declared_name(node)
  any(vapply(added, function(n) identical(declared_name(n), name) && (nzchar(name) || same_declaration(n, node)), NA))
}

same_declaration <- function(a, b) {
  if (b$kind != "call" || !identical(a$fn, b$fn)) return(FALSE)
  if (b$fn %in% c(single_words, "pays", "stakes")) return(TRUE)
  b$fn %in% words_by_first && length(a$args) > 0 && length(b$args) > 0 &&
    identical(label_text(a$args[[1]]), label_text(b$args[[1]]))
}

# without(steady, "an example"): what is left out of the whole.
without_names <- function(parsed) {
  is_without <- vapply(parsed$nodes, function(n) n$kind == "call" && n$fn == "without", NA)
  for (node in parsed$nodes[is_without]) for (a in node$args) {
    name <- label_text(a)
    known <- vapply(parsed$nodes, declared_name, "")
    in_state <- !is.null(name) &&
      any(vapply(parsed$nodes, function(n) n$kind == "call" && n$fn %in% c("state", "record") && name %in% n$names, NA))
    if (is.null(name) || !(name %in% known || in_state)) {
      parsed$diagnostics <- c(parsed$diagnostics,
                           list(diagnostic("without_what",
                                           sprintf("There is no declaration `%s` to leave out.", if (is.null(name)) "?"
                                             else name),
                                               or_spelling(did_you_mean(if (is.null(name)) "" else name, known)),
                                               a$at)))
    } else parsed$nodes <- lapply(Filter(function(n) declared_name(n) != name, parsed$nodes), drop_named, name = name)
    is_without <- vapply(parsed$nodes, function(n) n$kind == "call" && n$fn == "without", NA)
  }
  parsed$nodes <- parsed$nodes[!vapply(parsed$nodes, function(n) n$kind == "call" && n$fn == "without", NA)]
  parsed
}

# A part of state or record, by its name.
drop_named <- function(node, name) {
  if (node$kind != "call" || !node$fn %in% c("state", "record")) return(node)
  keep <- node$names != name
  node$args <- node$args[keep]
  node$names <- node$names[keep]
  node$name_at <- node$name_at[keep]
  node
}

# A file of players only, joined after the game.
with_players <- function(parsed, path) {
  source <- read_source(path)
  more <- parse_rules(source)
  shift <- length(parsed$source$lines)
  is_way <- vapply(more$nodes,
                   function(n)
                     n$kind == "call" && n$fn == "<-" &&
                     (n$args[[2]]$kind == "function" || identical(n$args[[2]]$fn, "player")), NA)
  for (n in more$nodes[!is_way])
    more$diagnostics <- c(more$diagnostics,
                       list(diagnostic("players_only", "A file of players has players, and functions for them, alone.",
                                       "put this into the rules of the game", n$at)))
  if (is.null(parsed$source$parts)) parsed$source$parts <- list(list(from = 1L, name = parsed$source$name))
  parsed$source$parts <- c(parsed$source$parts, list(list(from = shift + 1L, name = source$name)))
  parsed$source$lines <- c(parsed$source$lines, source$lines)
  parsed$nodes <- c(parsed$nodes, lapply(more$nodes[is_way], shift_node, by = shift))
  parsed$diagnostics <- c(parsed$diagnostics, lapply(more$diagnostics, shift_diagnostic, by = shift))
  parsed
}

# In a variant, amend(pays(guest, bright = 3)) changes the parts that it names of a declaration of the base, and leaves
# the rest. A part that the base does not have is added: before the one that is named, else before `otherwise`.

# list(nodes, diagnostics): the nodes of the base as amended.
amended_nodes <- function(nodes, amends) {
  diagnostics <- list()
  for (amend in amends) {
    result <- amend_one(nodes, amend)
    if (is.null(result$nodes)) diagnostics <- c(diagnostics, list(result)) else nodes <- result$nodes
  }
  list(nodes = nodes, diagnostics = diagnostics)
}

amend_wrong <- function(at, message, hint) diagnostic("amend_what", message, hint, at)

# list(nodes), or the diagnostic.
amend_one <- function(nodes, amend) {
  part <- Filter(function(a) a$kind == "call", amend$args[!amend$names %in% "before"])
  change <- if (length(part) == 1) part[[1]]
  parts <- if (!is.null(change)) parts_of(change)
  if (is.null(parts) || !any(nzchar(parts$names)))
    return(amend_wrong(amend$at, "`amend` takes one declaration, with the parts that change by their names.",
                       vocabulary_word("amend")$example))
  targets <- which(vapply(nodes, is_amended_by, NA, change = change))
  if (length(targets) == 0)
    return(amend_wrong(change$at, sprintf("The game that this is based on has no %s to amend.", target_text(change)),
                       sprintf("write %s as a declaration of its own", target_text(change))))
  before <- amend$args[amend$names %in% "before"]
  before <- if (length(before) > 0) label_text(before[[1]])
  for (k in which(nzchar(parts$names))) {
    names <- lapply(nodes[targets], function(n) parts_of(n)$names)
    has <- which(vapply(names, function(x) parts$names[[k]] %in% x, NA))
    target <- targets[[if (length(has) > 0) has[[1]] else 1L]]
    if (length(has) == 0 && !is.null(before) && !before %in% parts_of(nodes[[target]])$names)
      return(amend_wrong(amend$at, sprintf("There is no `%s` to put it before.", before),
                         or_spelling(did_you_mean(before, parts_of(nodes[[target]])$names))))
    nodes[[target]] <- with_part(nodes[[target]], parts, k, before)
  }
  list(nodes = nodes)
}

# The call whose parts have names: the declaration, or the right side of `name <- call(...)`.
parts_of <- function(node) {
  if (node$fn != "<-") return(node)
  if (node$args[[2]]$kind == "call") node$args[[2]] else list(names = character())
}

# The same word, the same name before it, the same things without a name: pays(guest, ...) is not pays(other, ...).
is_amended_by <- function(node, change) {
  if (node$kind != "call" || node$fn != change$fn) return(FALSE)
  if (node$fn == "<-" && !identical(declared_name(node), declared_name(change))) return(FALSE)
  unnamed <- function(n) { n <- parts_of(n); lapply(n$args[!nzchar(n$names)], label_text) }
  if (node$fn %in% words_by_first) return(identical(unnamed(node)[1], unnamed(change)[1]))
  if (node$fn %in% c("pays", "stakes")) identical(unnamed(node), unnamed(change)) else TRUE
}

target_text <- function(change) {
  if (change$fn == "<-") return(sprintf("`%s`", declared_name(change)))
  unnamed <- change$args[!nzchar(change$names)]
  sprintf("`%s(%s)`", change$fn, paste(c(unlist(lapply(unnamed, label_text)), "..."), collapse = ", "))
}

# Part k of `parts` in the place of the one of that name, or as one more.
with_part <- function(node, parts, k, before) {
  if (node$fn == "<-") {
    node$args[[2]] <- with_part(node$args[[2]], parts, k, before)
    return(node)
  }
  name <- parts$names[[k]]
  place <- match(name, node$names)
  if (is.na(place)) {
    place <- place_of_new(node, before)
    put <- function(x, new) append(x, list(new), place - 1L)
    node$args <- put(node$args, NULL)
    node$name_at <- put(node$name_at, NULL)
    node$names <- append(node$names, name, place - 1L)
  }
  node$args[[place]] <- parts$args[[k]]
  node$name_at[[place]] <- parts$name_at[[k]]
  node
}

place_of_new <- function(node, before) {
  n <- length(node$args)
  if (!is.null(before) && before %in% node$names) return(match(before, node$names))
  is_last_resort <- n > 0 && (identical(node$args[[n]]$name, "otherwise") || identical(node$names[[n]], "otherwise"))
  if (is_last_resort) n else n + 1L
}
