# A sweep that is cut off goes on from the points that it has kept: a JSON file, named by what was asked.

sweep_format <- 1L

sweep_key <- function(grid, task) {
  asked <- list(sweep_format, task$game$built$program$hash, grid$points,
                task[c("measure", "engine", "rounds", "seed", "more")])
  substr(digest::digest(asked, algo = "sha256", serializeVersion = 2L), 1, 16)
}

write_sweep <- function(told, grid, task, path) {
  done <- which(!vapply(told, is.null, NA))
  rows <- lapply(done, function(k) list(point = k, told = told[[k]]))
  write_lines(as.character(jsonlite::toJSON(list(what = "basanos sweep", key = sweep_key(grid, task), points = rows),
                                            dataframe = "rows", auto_unbox = TRUE, digits = NA, na = "null")), path,
              sprintf("After %s the sweep", count_text(length(done), "point")))
}

# The points that are kept, a list by number; none where there is no file yet.
read_sweep <- function(path, grid, task) {
  if (is.null(path) || !file.exists(path)) return(list())
  kept <- tryCatch(jsonlite::fromJSON(paste(readLines(path, warn = FALSE), collapse = "\n"), simplifyVector = FALSE),
                   error = function(e) NULL)
  if (!identical(kept$what, "basanos sweep"))
    abort_input("checkpoint_damaged", sprintf("`%s` is not a sweep that was kept.", path),
                "begin anew with another file, or delete this one")
  if (!identical(kept$key, sweep_key(grid, task)))
    abort_input("checkpoint_other", sprintf("`%s` is of another sweep: other rules, values or measures.", path),
                "begin anew with another file")
  told <- list()
  for (point in kept$points) told[[point$point]] <- do.call(rbind, lapply(point$told, function(row)
    as.data.frame(lapply(row[c("measure", "value", "standard_error", "lower", "upper", "engine")], function(x)
      if (is.null(x)) NA_real_ else x))))
  told
}
