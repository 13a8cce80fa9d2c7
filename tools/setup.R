# Sets up what is missing: the packages of DESCRIPTION from CRAN, then basanos itself into .lib/ of
# this checkout, so that two checkouts do not meet. Run by `make demo` and `make test`.
# Arguments: the suggested packages that are wanted as well.

started <- Sys.time()
wanted <- commandArgs(trailingOnly = TRUE)

# Where packages can be put: the first library that can be written, else the user's own.
library_to_write <- function() {
  for (path in .libPaths()) if (file.access(path, 2) == 0) return(path)
  path <- strsplit(Sys.getenv("R_LIBS_USER"), .Platform$path.sep, fixed = TRUE)[[1]][[1]]
  dir.create(path, recursive = TRUE, showWarnings = FALSE)
  .libPaths(c(path, .libPaths()))
  path
}

cran <- function() {
  repos <- getOption("repos")
  if (is.na(repos["CRAN"]) || repos["CRAN"] == "@CRAN@") c(CRAN = utils::getCRANmirrors(local.only = TRUE)$URL[[1]])
  else repos
}

# Asked in a process of its own: one that has loaded a package keeps its old version after a newer one is installed.
without <- function(packages) {
  ask <- sprintf("for (p in c(%s)) if (!requireNamespace(p, quietly = TRUE)) writeLines(p)",
                 paste0("'", packages, "'", collapse = ", "))
  packages[packages %in% suppressWarnings(system2(file.path(R.home("bin"), "Rscript"), c("-e", shQuote(ask)),
    stdout = TRUE, stderr = FALSE))]
}

# A large package uses all cores.
cores <- max(1L, parallel::detectCores())
Sys.setenv(R_MAKEVARS_USER = file.path(getwd(), "tools", "Makevars"), MAKEFLAGS = sprintf("-j%d", cores))

needed <- c("cli", "digest", "jsonlite", "optparse", "Rcpp", wanted)
missing <- without(needed)
if (length(missing) > 0) {
  message("Installing ", paste(missing, collapse = ", "), " from CRAN ...")
  log <- tempfile("install-", fileext = ".log")
  # A package behind testthat wants a system library, or builds its own copy when told to.
  Sys.setenv(USE_BUNDLED_LIBUV = "1")
  # Build logs go to a file, and are shown only where something failed.
  status <- system2(file.path(R.home("bin"), "Rscript"), c("-e", shQuote(sprintf(
    "install.packages(c(%s), lib = '%s', repos = '%s', Ncpus = %d, quiet = TRUE)",
    paste0("'", missing, "'", collapse = ", "), library_to_write(), cran()[["CRAN"]], cores))), stdout = log,
    stderr = log)
  failed <- without(missing)
  if (length(failed) > 0) {
    writeLines(utils::tail(readLines(log), 60))
    stop("these packages could not be installed: ", paste(failed, collapse = ", "))
  }
}

# Built anew only where a source is newer than the last build; a folder is newer where a file of it was taken away.
built <- ".lib/built"
sources <- c("DESCRIPTION", "NAMESPACE", list.files(c("R", "src", "inst", "man", "vignettes"), recursive = TRUE,
                                                    full.names = TRUE, include.dirs = TRUE))
sources <- sources[!grepl("[.](o|so|dll)$", sources) & sources != "src"]
if (!file.exists(".lib/basanos") || !file.exists(built) || any(file.mtime(sources) > file.mtime(built))) {
  dir.create(".lib", showWarnings = FALSE)
  message("Installing basanos into .lib/ ...")
  log <- ".lib/install.log"  # the package check reads it
  status <- system2(file.path(R.home("bin"), "R"), c("CMD", "INSTALL", "--library=.lib", "."), stdout = log,
                    stderr = log, env = paste0("R_LIBS=", paste(.libPaths(), collapse = .Platform$path.sep)))
  if (status != 0) {
    writeLines(utils::tail(readLines(log), 60))
    stop("basanos could not be built")
  }
  writeLines(format(Sys.time()), built)
}
message(sprintf("Set up in %.0f s.", as.numeric(Sys.time() - started, units = "secs")))
