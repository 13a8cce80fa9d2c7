# Writes the programs of the fair's games as plain numbers, one file each, for tests/fuzz/loader.cpp.
# Usage: Rscript tests/fuzz/programs.R FOLDER
.libPaths(c(".lib", .libPaths()))
folder <- commandArgs(trailingOnly = TRUE)[[1]]
dir.create(folder, recursive = TRUE, showWarnings = FALSE)
row <- function(...) paste(c(...), collapse = " ")
matrix_rows <- function(m) c(ncol(m), apply(m, 2, row))
for (name in basanos::fair_games()) {
  p <- basanos:::compile_game(basanos::game(name))
  if (length(p$word_letters) > 3000) next  # the long word lists only slow it down
  tables <- vapply(p$tables, function(t) row(t$first, t$size, length(t$values), t$values), "")
  weights <- vapply(p$weights, function(w) row(length(w), sprintf("%.17g", w)), "")
  writeLines(c(matrix_rows(p$code), row(length(p$int_start), p$int_start),
               row(length(p$real_start), sprintf("%.17g", p$real_start)), matrix_rows(p$arrays), matrix_rows(p$lists),
               matrix_rows(p$list_arrays),
               row(length(p$word_start), p$word_start), row(length(p$word_letters), p$word_letters), length(tables),
               tables, length(weights), weights, length(p$sources),
               p$outcome_register, length(p$outcomes), row(length(p$quantity_register), p$quantity_register),
               row(as.integer(p$quantity_real)),
               if (is.null(p$symmetry)) 0
               else c(p$symmetry$count, vapply(p$symmetry[-1], function(x) row(length(x), x), ""))),
                 file.path(folder, paste0(name, ".program")))
}
