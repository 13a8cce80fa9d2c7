# Word lists, their letters, and codes. All the words of a game have numbers of their own, from 1; a list is
# the numbers it holds. A word's letters are labels, which only count where a letter is wanted.

max_letters <- 16L
max_words <- 100000L

# words("file.txt", length = 5, includes = secrets), or words("reef", "boat")
check_words <- function(cx, name, node) {
  args <- match_arguments(cx, node)
  lengths <- word_lengths(cx, args$length)
  texts <- character()
  for (a in args$dots) {
    text <- text_argument(cx, a, "What `words` lists")
    if (is.null(text)) next
    texts <- c(texts, if (grepl("\\.txt$", text)) words_of_file(cx, text, a$at) else word_in_rules(cx, text, a$at))
  }
  if (!is.null(lengths)) texts <- texts[nchar(texts) %in% lengths]
  if (anyDuplicated(texts)) note(cx, "words_twice", node$at, sprintf("`%s` holds %s more than once; each counts once.", name$name, some_of_names(unique(texts[duplicated(texts)]))))
  included <- included_words(cx, args$includes)
  ids <- union(included, intern_words(cx, unique(texts)))
  if (length(args$dots) == 0) report(cx, "argument_missing", node$at, "`words` needs a file or words.", vocabulary_word("words")$example)
  else if (length(ids) == 0 && !any(vapply(cx$problems, function(p) identical(p$at, args$dots[[1]]$at), NA))) {
    report(cx, "words_none", node$at, sprintf("`%s` holds no word%s.", name$name, if (is.null(lengths)) "" else " of that length"), "check the file and the length")
  }
  declare(cx, name$name, name$at, "words", ids = sort(ids), type = t_item("word", name$name))
}

word_lengths <- function(cx, node) {
  if (is.null(node)) return(NULL)
  v <- check_value(cx, new_scope("a word list"), node)
  ends <- if (is_kind(v$type, "range")) list(v$low, v$high) else list(v, v)
  if (!all(vapply(ends, function(e) e$op == "lit" && is_kind(e$type, "whole"), NA))) {
    report(cx, "not_constant", node$at, "The length of the words is a number or a range of numbers.", "write length = 5 or length = 4:10")
    return(NULL)
  }
  seq(ends[[1]]$value, ends[[2]]$value)
}

included_words <- function(cx, node) {
  if (is.null(node)) return(integer())
  d <- if (node$kind == "name") cx$names[[node$name]]
  if (identical(d$kind, "words")) return(d$ids)
  report(cx, "wrong_thing", node$at, "`includes` names another word list.", "declare it before this one, as in secrets <- words(\"secret.txt\")")
  integer()
}

words_of_file <- function(cx, file, at) {
  folders <- c(cx$source$folder, cx$source$folders)
  path <- file.path(folders, file)
  path <- if (!grepl("[/\\\\]", file)) path[file.exists(path)]
  if (length(path) == 0) {
    report(cx, "words_file", at, sprintf("There is no word list `%s` beside these rules.", file), "put the file into the folder of the rules file, and give its name alone")
    return(character())
  }
  bytes <- read_bytes(path[[1]], max_file * 10)
  if (is.null(bytes) || any(bytes == as.raw(0))) {
    what <- if (is.null(bytes)) "cannot be read" else "is not a text file"
    report(cx, "words_file", at, sprintf("The word list `%s` %s.", file, what), "give the name of a text file, one word a line")
    return(character())
  }
  if (length(bytes) > max_file * 10) {
    report(cx, "words_file", at, sprintf("`%s` is too large for a word list.", file), "keep it below two million bytes")
    return(character())
  }
  lines <- strsplit(gsub("\r\n?", "\n", rawToChar(bytes), useBytes = TRUE), "\n", fixed = TRUE, useBytes = TRUE)[[1]]
  lines[!validUTF8(lines)] <- "?"
  Encoding(lines) <- "UTF-8"
  lines <- sub("^\ufeff", "", lines)
  lines <- tolower(trimws(sub("#.*", "", lines)))
  bad <- which(nzchar(lines) & !is_word(lines))
  for (line in utils::head(bad, 3)) report(cx, "words_letters", at, sprintf("Line %d of `%s` is not one word of letters: \"%s\".", line, file, substr(lines[[line]], 1, 40)), "one word a line; comments start with #")
  lines[nzchar(lines) & is_word(lines)]
}

is_word <- function(text) grepl("^\\p{L}+$", text, perl = TRUE) & nchar(text) <= max_letters

word_in_rules <- function(cx, text, at) {
  text <- tolower(trimws(text))
  if (is_word(text)) return(text)
  report(cx, "words_letters", at, sprintf("\"%s\" is not one word of letters.", text), "a word has letters only, at most 16; a file's name ends in .txt")
  character()
}

# codes(peg, length = 4, repeats = no): every row of so many items, as words.
check_codes <- function(cx, name, node) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(declare(cx, name$name, name$at, "words", ids = integer(), type = t_item("word", name$name)))
  letters <- code_letters(cx, args$of)
  n <- word_lengths(cx, args$length)
  repeats <- is.null(args$repeats) || !identical(check_value(cx, new_scope("a list of codes"), args$repeats, t_yesno)$value, 0)
  ids <- integer()
  if (length(n) == 1 && length(letters) > 0) {
    many <- if (repeats) length(letters)^n else prod(length(letters) - seq_len(n) + 1)
    if (many < 1 || many > max_words || n < 1 || n > max_letters) {
      report(cx, "words_none", node$at, sprintf("There are %s such codes.", whole_text(many)), sprintf("shorten them: from 1 to %d codes", max_words))
    } else {
      grid <- as.matrix(rev(expand.grid(rep(list(seq_along(letters)), n))))
      if (!repeats) grid <- grid[apply(grid, 1, anyDuplicated) == 0, , drop = FALSE]
      texts <- apply(grid, 1, function(row) paste(letters[row], collapse = if (all(nchar(letters) == 1)) "" else " "))
      ids <- intern_words(cx, texts, lapply(seq_len(nrow(grid)), function(k) letters[grid[k, ]]))
    }
  }
  declare(cx, name$name, name$at, "words", ids = ids, type = t_item("word", name$name))
}

code_letters <- function(cx, node) {
  if (node$kind == "call" && node$fn == ":") {
    ends <- word_lengths(cx, node)
    if (is.null(ends)) return(character())
    return(as.character(ends))
  }
  set <- if (node$kind == "name") set_named(cx, node$name)
  if (!is.null(set) && is_kind(set$type, "label")) return(cx$labels[set$ids])
  report(cx, "item_kind", node$at, "Codes are made of a set of names, or of the numbers of a range.", "write codes(peg, length = 4) or codes(0:9, length = 4)")
  character()
}

# Numbers of words; new ones get the next. Letters are labels without being declared names.
intern_words <- function(cx, texts, letters = strsplit(texts, "")) {
  known <- match(texts, cx$words$texts)
  fresh <- which(is.na(known))
  if (length(fresh) > 0) {
    all <- unlist(letters[fresh])
    letter_labels(cx, sort(unique(all)))
    known[fresh] <- length(cx$words$texts) + seq_along(fresh)
    cx$words$texts <- c(cx$words$texts, texts[fresh])
    cx$words$letters <- c(cx$words$letters, match(all, cx$labels))
    cx$words$start <- c(cx$words$start, cx$words$start[[length(cx$words$start)]] + cumsum(lengths(letters[fresh])))
  }
  known
}

# Any letter may be called, also one that no word has.
letter_labels <- function(cx, texts) {
  cx$labels <- c(cx$labels, setdiff(texts, cx$labels))
  cx$letters <- union(cx$letters, texts)
  match(texts, cx$labels)
}

no_words <- function() list(texts = character(), letters = integer(), start = 0L)

letters_of_words <- function(cx, ids) {
  sort(unique(cx$words$letters[unlist(lapply(ids, function(w) seq(cx$words$start[[w]] + 1L, cx$words$start[[w + 1L]])))]))
}

# alphabet(list): its letters, as a set of labels
check_alphabet <- function(cx, name, node) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(declare(cx, name$name, name$at, "alphabet", members = integer()))
  d <- declared_thing(cx, args$of, "words")
  members <- if (is.null(d) || length(d$ids) == 0) integer() else union(letters_of_words(cx, d$ids), letter_labels(cx, letters))
  declare(cx, name$name, name$at, "alphabet", members = sort(members))
}

# --- values --------------------------------------------------------------------

# The lengths of the words that a value may be.
lengths_of <- function(cx, type) {
  ids <- cx$names[[type$set]]$ids
  unique(diff(cx$words$start)[ids])
}

# A word as the list of its letters.
letters_value <- function(cx, v) {
  if (!is_kind(v$type, "word")) return(v)
  ids <- cx$names[[v$type$set]]$ids
  typed("pool_letters", t_collection("list", t_label("letters", if (length(ids) > 0) letters_of_words(cx, ids) else integer())), v$at, x = v)
}

word_argument <- function(cx, sc, node, what) {
  known <- Filter(function(d) d$kind == "words", cx$names)
  value_of(cx, sc, node, if (length(known) > 0) known[[1]]$type else t_item("word", "words"), what)
}

value_compare <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  guess <- word_argument(cx, sc, args$guess, "The guess")
  secret <- word_argument(cx, sc, args$secret, "The secret")
  naive <- if (is.null(args$naive)) literal(0, t_yesno, node$at) else condition(cx, sc, args$naive, "`naive`")
  if (!naive$const) report(cx, "not_constant", args$naive$at, "`naive` is yes, no or a setting.", "make it a setting: naive <- setting(no)")
  if (is_unknown(guess$type) || is_unknown(secret$type)) return(broken(node$at))
  long <- union(lengths_of(cx, guess$type), lengths_of(cx, secret$type))
  if (length(long) > 1) {
    report(cx, "words_lengths", node$at, "Only words of one length can be compared letter by letter.", "give the word lists one length, as in words(\"five.txt\", length = 5)")
    return(broken(node$at))
  }
  cx$words$mark_length <- long
  typed("compare", t_marks, node$at, guess = guess, secret = secret, naive = naive)
}

value_mask <- function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  word <- word_argument(cx, sc, args$word, "The word behind the mask")
  tried <- check_value(cx, sc, args$tried)
  if (is_unknown(word$type) || is_unknown(tried$type)) return(broken(node$at))
  if (!is_pool(tried$type) || !is_kind(tried$type$of, "label")) return(wrong_type(cx, tried, t_collection("bag", t_label("letters", integer())), "The letters tried"))
  of <- letters_value(cx, word)$type$of
  of$none <- TRUE
  typed("pool_mask", t_collection("list", of), node$at, x = word, tried = tried)
}

marks_count <- function(kind) function(cx, sc, node, want) {
  args <- match_arguments(cx, node)
  if (is.null(args)) return(broken(node$at))
  v <- value_of(cx, sc, args$marks, t_marks, sprintf("What `%s` counts", node$fn))
  if (is_unknown(v$type)) return(v)
  typed("marks_seen", t_whole, node$at, x = v, kind = kind)
}

value_placed <- marks_count(2L)
value_present <- marks_count(1L)
