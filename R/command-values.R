# Values as they are typed on the command line.

# name=value, or several with commas between; a comma inside a value stays, as in left=one:3,other:1.
name_values <- function(pairs, flag, example) {
  pairs <- unlist(strsplit(as.character(pairs), ",(?![^()]*\\))(?=[^,=]+=)", perl = TRUE))
  bad <- pairs[!grepl("^[^=]+=.+$", pairs)]
  if (length(bad) > 0)
    abort_input("flag_wrong", sprintf("`%s %s` is not name=value.", flag, bad[[1]]),
                sprintf("write %s %s", flag, example))
  names <- sub("=.*", "", pairs)
  if (anyDuplicated(names))
    abort_input("flag_wrong", sprintf("`%s` gives `%s` twice.", flag, names[duplicated(names)][[1]]), "keep one")
  stats::setNames(as.list(sub("^[^=]+=", "", pairs)), names)
}

# "80%,50%" as shares.
shares_given <- function(text)
  vapply(split_outside_brackets(text), target_number, 0, whole = text, USE.NAMES = FALSE)

# "flat=1; doubling=if (last_net < 0) 2 * last_stake else 1": one rule, or several by name.
stakes_given <- function(text) {
  parts <- trimws(strsplit(text, ";", fixed = TRUE)[[1]])
  named <- grepl("^[A-Za-z_][A-Za-z0-9_]*\\s*=(?!=)", parts, perl = TRUE)
  stats::setNames(ifelse(named, sub("^[^=]*=\\s*", "", parts), parts),
                  ifelse(named, sub("\\s*=.*", "", parts), ""))
}

records_written <- function(records)
  if (is.null(names(records))) records else paste(names(records), records, sep = " = ")

stakes_written <- function(stakes) {
  named <- nzchar(if (is.null(names(stakes))) rep("", length(stakes)) else names(stakes))
  paste(ifelse(named, paste0(names(stakes), "=", stakes), as.character(stakes)), collapse = "; ")
}

# "weight=3, guest=careful, stake=2": what is no field of a visitor is a seat with its player.
visitors_given <- function(texts) {
  lapply(texts, function(text) {
    parts <- trimws(strsplit(text, ",", fixed = TRUE)[[1]])
    named <- grepl("=", parts, fixed = TRUE)
    if (!all(named))
      abort_input("takings_wrong", sprintf("`%s` is not name=value.", parts[!named][[1]]),
                  "write --visitor \"weight=3, guest=careful, stake=2, wallet=20\"")
    values <- stats::setNames(as.list(trimws(sub("^[^=]*=", "", parts))), trimws(sub("=.*", "", parts)))
    is_field <- names(values) %in% setdiff(visitor_fields, "players")
    c(lapply(values[is_field], number_or_text), list(players = values[!is_field]))
  })
}

visitors_written <- function(visitors) vapply(visitors, function(visitor) {
  fields <- c(visitor[setdiff(names(visitor), "players")], visitor$players)
  paste(names(fields), vapply(fields, plain_number, ""), sep = "=", collapse = ", ")
}, "")

# "aim" or "aim=20:26", as names or as a list of values by name.
what_if_given <- function(texts) {
  named <- grepl("=", texts, fixed = TRUE)
  values <- lapply(seq_along(texts), function(k) if (named[[k]]) swept_values(sub("^[^=]*=", "", texts[[k]])))
  stats::setNames(values, trimws(sub("=.*", "", texts)))
}

what_if_written <- function(turned) {
  if (!is.list(turned)) return(turned)
  values <- vapply(turned, function(v) paste(vapply(v, plain_number, ""), collapse = ","), "")
  ifelse(nzchar(values), paste0(names(turned), "=", values), names(turned))
}
