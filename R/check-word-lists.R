# Word lists, their letters, and codes. All the words of a game have numbers of their own, from 1; a list is
# the numbers it holds. A word's letters are labels, which only count where a letter is expected.

max_letters <- 16L
max_words <- 100000L

# words("file.txt", length = 5, includes = secrets), or words("reef", "boat")
check_words <- function(context, name, node) {
  args <- match_arguments(context, node)
  lengths <- word_lengths(context, args$length)
  texts <- character()
  for (a in args$dots) {
    text <- text_argument(context, a, "An item of `words`")
    if (is.null(text)) next
    texts <- c(texts, if (grepl("\\.txt$", text)) words_of_file(context, text, a$at)
      else word_in_rules(context, text, a$at))
  }
  if (!is.null(lengths)) texts <- texts[nchar(texts) %in% lengths]
  if (anyDuplicated(texts))
    note(context, "words_twice", node$at,
         sprintf("`%s` holds %s more than once; each counts once.", name$name,
                 some_of_names(unique(texts[duplicated(texts)]))))
  included <- included_words(context, args$includes)
  ids <- union(included, intern_words(context, unique(texts)))
  if (length(args$dots) == 0)
    report(context, "argument_missing", node$at, "`words` needs a file or words.", vocabulary_word("words")$example)
  else if (length(ids) == 0 && !any(vapply(context$diagnostics, function(p) identical(p$at, args$dots[[1]]$at), NA))) {
    report(context, "words_none", node$at,
           sprintf("`%s` holds no word%s.", name$name, if (is.null(lengths)) "" else " of that length"),
           "check the file and the length")
  }
  declare(context, name$name, name$at, "words", ids = sort(ids), type = t_item("word", name$name))
}

word_lengths <- function(context, node) {
  if (is.null(node)) return(NULL)
  v <- check_value(context, new_scope("a word list"), node)
  ends <- if (is_kind(v$type, "range")) list(v$low, v$high) else list(v, v)
  if (!all(vapply(ends, function(e) e$op == "lit" && is_kind(e$type, "whole"), NA))) {
    report(context, "not_constant", node$at, "The length of the words is a number or a range of numbers.",
           "write length = 5 or length = 4:10")
    return(NULL)
  }
  seq(ends[[1]]$value, ends[[2]]$value)
}

included_words <- function(context, node) {
  if (is.null(node)) return(integer())
  d <- if (node$kind == "name") context$names[[node$name]]
  if (identical(d$kind, "words")) return(d$ids)
  report(context, "wrong_thing", node$at, "`includes` names another word list.",
         "declare it before this one, as in secrets <- words(\"secret.txt\")")
  integer()
}

words_of_file <- function(context, file, at) {
  lines <- lines_beside_rules(context, file, at, "words_file", "word list")
  if (is.null(lines)) return(character())
  lines <- tolower(trimws(sub("#.*", "", lines)))
  bad <- which(nzchar(lines) & !is_word(lines))
  for (line in utils::head(bad, 3))
    report(context, "words_letters", at,
           sprintf("Line %d of `%s` is not one word of letters: \"%s\".", line, file, substr(lines[[line]], 1, 40)),
           "one word a line; comments start with #")
  lines[nzchar(lines) & is_word(lines)]
}

# The lines of a text file beside the rules, called a `what`; NULL where it cannot be read, and reported.
lines_beside_rules <- function(context, file, at, id, what) {
  folders <- c(context$source$folder, context$source$folders)
  path <- file.path(folders, file)
  path <- if (!grepl("[/\\\\]", file)) path[file.exists(path)]
  if (length(path) == 0) {
    report(context, id, at, sprintf("There is no %s `%s` beside these rules.", what, file),
           "put the file into the folder of the rules file, and give its name alone")
    return(NULL)
  }
  bytes <- if (!file_is_special(path[[1]])) read_bytes(path[[1]], most_bytes_beside)  # a pipe may never end
  if (is.null(bytes) || any(bytes == as.raw(0))) {
    report(context, id, at, sprintf("The %s `%s` %s.", what, file,
                                    if (is.null(bytes)) "cannot be read" else "is not a text file"),
           "give the name of a text file")
    return(NULL)
  }
  if (length(bytes) > most_bytes_beside) {
    report(context, id, at, sprintf("`%s` is too large for a %s.", file, what), "keep it below 50 million bytes")
    return(NULL)
  }
  lines <- strsplit(gsub("\r\n?", "\n", rawToChar(bytes), useBytes = TRUE), "\n", fixed = TRUE, useBytes = TRUE)[[1]]
  lines[!validUTF8(lines)] <- "?"
  Encoding(lines) <- "UTF-8"
  sub("^\ufeff", "", lines)
}

most_bytes_beside <- 5e7

is_word <- function(text) grepl("^\\p{L}+$", text, perl = TRUE) & nchar(text) <= max_letters

word_in_rules <- function(context, text, at) {
  text <- tolower(trimws(text))
  if (is_word(text)) return(text)
  report(context, "words_letters", at, sprintf("\"%s\" is not one word of letters.", text),
         "a word has letters only, at most 16; a file's name ends in .txt")
  character()
}

# codes(peg, length = 4, repeats = no): every row of that length, as words.
check_codes <- function(context, name, node) {
  args <- match_arguments(context, node)
  if (is.null(args))
    return(declare(context, name$name, name$at, "words", ids = integer(), type = t_item("word", name$name)))
  letters <- code_letters(context, args$of)
  n <- word_lengths(context, args$length)
  repeats <- is.null(args$repeats) ||
    !identical(check_value(context, new_scope("a list of codes"), args$repeats, t_yesno)$value, 0)
  ids <- integer()
  if (length(n) == 1 && length(letters) > 0) {
    many <- if (repeats) length(letters)^n else prod(length(letters) - seq_len(n) + 1)
    if (many < 1 || many > max_words || n < 1 || n > max_letters) {
      report(context, "words_none", node$at, sprintf("There are %s such codes.", whole_text(many)),
             sprintf("shorten them: from 1 to %d codes", max_words))
    } else {
      grid <- as.matrix(rev(expand.grid(rep(list(seq_along(letters)), n))))
      if (!repeats) grid <- grid[apply(grid, 1, anyDuplicated) == 0, , drop = FALSE]
      texts <- apply(grid, 1, function(row) paste(letters[row], collapse = if (all(nchar(letters) == 1)) "" else " "))
      ids <- intern_words(context, texts, lapply(seq_len(nrow(grid)), function(k) letters[grid[k, ]]))
    }
  }
  declare(context, name$name, name$at, "words", ids = ids, type = t_item("word", name$name))
}

code_letters <- function(context, node) {
  if (node$kind == "call" && node$fn == ":") {
    ends <- word_lengths(context, node)
    if (is.null(ends)) return(character())
    return(as.character(ends))
  }
  set <- if (node$kind == "name") set_named(context, node$name)
  if (!is.null(set) && is_kind(set$type, "label")) return(context$labels[set$ids])
  report(context, "item_kind", node$at, "Codes are made of a set of names, or of the numbers of a range.",
         "write codes(peg, length = 4) or codes(0:9, length = 4)")
  character()
}

# Numbers of words; new ones get the next. Letters are labels without being declared names.
intern_words <- function(context, texts, letters = strsplit(texts, "")) {
  known <- match(texts, context$words$texts)
  fresh <- which(is.na(known))
  if (length(fresh) > 0) {
    all <- unlist(letters[fresh])
    letter_labels(context, sort(unique(all)))
    known[fresh] <- length(context$words$texts) + seq_along(fresh)
    context$words$texts <- c(context$words$texts, texts[fresh])
    context$words$letters <- c(context$words$letters, match(all, context$labels))
    context$words$start <- c(context$words$start,
                             context$words$start[[length(context$words$start)]] + cumsum(lengths(letters[fresh])))
  }
  known
}

# Any letter may be called, also one that no word has.
letter_labels <- function(context, texts) {
  context$labels <- c(context$labels, setdiff(texts, context$labels))
  context$letters <- union(context$letters, texts)
  match(texts, context$labels)
}

# alphabet(list): its letters, as a set of labels
check_alphabet <- function(context, name, node) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(declare(context, name$name, name$at, "alphabet", members = integer()))
  d <- declared_thing(context, args$of, "words")
  members <- if (is.null(d) || length(d$ids) == 0) integer()
    else union(letters_of_words(context, d$ids), letter_labels(context, letters))
  declare(context, name$name, name$at, "alphabet", members = sort(members))
}

# --- values --------------------------------------------------------------------

# The lengths of the words that a value may be.
lengths_of <- function(context, type) {
  ids <- context$names[[type$set]]$ids
  unique(diff(context$words$start)[ids])
}

word_argument <- function(context, scope, node, what) {
  known <- Filter(function(d) d$kind == "words", context$names)
  value_of(context, scope, node, if (length(known) > 0) known[[1]]$type else t_item("word", "words"), what)
}

value_compare <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  guess <- word_argument(context, scope, args$guess, "The guess")
  secret <- word_argument(context, scope, args$secret, "The secret")
  naive <- if (is.null(args$naive)) literal(0, t_yesno, node$at) else condition(context, scope, args$naive, "`naive`")
  if (!naive$const)
    report(context, "not_constant", args$naive$at, "`naive` is yes, no or a setting.",
           "make it a setting: naive <- setting(no)")
  if (is_unknown(guess$type) || is_unknown(secret$type)) return(broken(node$at))
  long <- union(lengths_of(context, guess$type), lengths_of(context, secret$type))
  if (length(long) > 1) {
    report(context, "words_lengths", node$at, "Only words of one length can be compared letter by letter.",
           "give the word lists one length, as in words(\"five.txt\", length = 5)")
    return(broken(node$at))
  }
  context$words$mark_length <- long
  typed("compare", t_marks, node$at, guess = guess, secret = secret, naive = naive)
}

value_mask <- function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  word <- word_argument(context, scope, args$word, "The word behind the mask")
  tried <- check_value(context, scope, args$tried)
  if (is_unknown(word$type) || is_unknown(tried$type)) return(broken(node$at))
  if (!is_collection(tried$type) || !is_kind(tried$type$of, "label"))
    return(wrong_type(context, tried, t_collection("bag", t_label("letters", integer())), "The letters tried"))
  of <- letters_value(context, word)$type$of
  of$none <- TRUE
  typed("collection_mask", t_collection("list", of), node$at, x = word, tried = tried)
}

marks_count <- function(kind) function(context, scope, node, want) {
  args <- match_arguments(context, node)
  if (is.null(args)) return(broken(node$at))
  v <- value_of(context, scope, args$marks, t_marks, sprintf("The argument of `%s`", node$fn))
  if (is_unknown(v$type)) return(v)
  typed("marks_seen", t_whole, node$at, x = v, kind = kind)
}

value_placed <- marks_count(2L)
value_elsewhere <- marks_count(1L)
