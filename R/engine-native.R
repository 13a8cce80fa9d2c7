# Long runs go on as native code: the program is generated as C and built by R's own compiler, in the background, while
# the interpreter plays on. The same rounds, to the last bit, some times sooner. Where it cannot be had the interpreter
# plays to the end, and nothing is said.

native_programs <- new.env(parent = emptyenv())
most_native <- 50L
least_seconds_left <- 2  # shorter runs are not worth a compiler

# As measured over games of 27 to 24 000 operations; native code then takes a half to a quarter of the time.
seconds_to_compile <- function(program) 0.15 + 0.0035 * ncol(program$code)

# list(offer, cancel). The sampler calls offer(seconds_left) now and then: NULL says ask again, FALSE that there will be
# none, NA that R's limit of time has come, else it is the compiled function. cancel() ends a compiler that still runs.
native_offer <- function(program) {
  nothing <- list(offer = NULL, cancel = function() NULL)
  if (!isTRUE(getOption("basanos.compile", TRUE)) || .Platform$OS.type != "unix") return(nothing)
  build <- NULL
  offer <- function(seconds_left) {
    if (is.null(build)) {
      if (seconds_left < max(least_seconds_left, 2 * seconds_to_compile(program))) return(FALSE)
      build <<- start_build(core_generated_c(loaded(program)))
    }
    poll_build(build)
  }
  list(offer = function(seconds_left) at_limit_of_time(offer(seconds_left), NA),
       cancel = function() if (!is.null(build)) at_limit_of_time(end_build(build), end_build(build)))
}

# R's own limit of time (setTimeLimit) strikes once, as an error, in whatever R code runs then.
at_limit_of_time <- function(work, instead) {
  tryCatch(work, error = function(e) if (is_limit_of_time(e)) instead else stop(e))
}

is_limit_of_time <- function(e) {
  conditionMessage(e) %in% gettext(c("reached elapsed time limit", "reached CPU time limit"), domain = "R")
}

# The native code of a program, waited for; NULL where it cannot be had.
native_program <- function(program) {
  build <- start_build(core_generated_c(loaded(program)))
  on.exit(end_build(build))
  repeat {
    library_built <- poll_build(build)
    if (!is.null(library_built)) return(if (isFALSE(library_built)) NULL else library_built)
    Sys.sleep(0.02)
  }
}

# Starts the compiler in the background, unless this text has been built before: an environment with `key`, `folder`.
start_build <- function(text) {
  build <- new.env(parent = emptyenv())
  build$key <- digest::digest(text, algo = "sha256", serialize = FALSE)
  if (!is.null(native_programs[[build$key]])) return(build)
  build$folder <- tempfile("game-")
  dir.create(build$folder)
  writeLines(text, file.path(build$folder, "game.c"))
  compiler <- r_compiler()
  flags <- c(compiler[-1], "-O2", "-ffp-contract=off", "-w", "-I", shQuote(system.file("include", package = "basanos")))
  compile <- paste(c(shQuote(compiler[[1]]), flags, "-o", "library", "game.c", "-lm"), collapse = " ")
  # In a session of its own, so that the compiler and what it starts can be ended, and Ctrl-C is R's alone. Its
  # temporary files go to the folder as well: what is ended leaves nothing elsewhere.
  build$pid <- start_shell(sprintf("cd %s; export TMPDIR=.; %s /bin/sh -c %s > /dev/null 2>&1 & echo $!",
                                   shQuote(build$folder), if (nzchar(Sys.which("setsid"))) "setsid" else "",
                                   shQuote(paste(compile, "; echo $? > status"))))
  build
}

# Runs a script, and gives its lines. R's system() ignores Ctrl-C until the shell has started, a pipe does not.
start_shell <- function(script) {
  shell <- pipe(script, open = "r")
  on.exit(close(shell))
  readLines(shell, warn = FALSE)
}

in_build <- function(build, name) file.path(build$folder, name)

# NULL while the compiler runs; then the compiled function, or FALSE where there is none. That is remembered too.
poll_build <- function(build) {
  known <- native_programs[[build$key]]
  if (is.null(known)) {
    status <- build_status(build)
    if (length(status) == 0) return(NULL)
    known <- tryCatch(load_build(build, status), error = function(e) list(play = FALSE))
    if (length(ls(native_programs)) >= most_native) forget_native()
    assign(build$key, known, envir = native_programs)
    end_build(build)
  }
  known$play
}

# The compiler's exit code; nothing while it runs.
build_status <- function(build) {
  path <- in_build(build, "status")
  if (file.exists(path)) readLines(path, warn = FALSE) else character()
}

load_build <- function(build, status) {
  if (status != "0") return(list(play = FALSE))
  # Each library is loaded from a path of its own, or the system would take it for one that it has.
  library <- dyn.load(in_build(build, "library"))
  list(play = getNativeSymbolInfo("play_units", library)$address, library = library[["path"]])
}

# Ends the compiler, and leaves no file behind: a library that is loaded needs its file no longer.
end_build <- function(build) {
  if (is.null(build$folder)) return(invisible())
  if (length(build_status(build)) == 0) {
    start_shell(sprintf("kill -s KILL -- -%s 2> /dev/null || kill -s KILL %s 2> /dev/null", build$pid, build$pid))
  }
  # A killed process may still finish writing its file.
  for (attempt in 1:50) {
    unlink(build$folder, recursive = TRUE)
    if (!dir.exists(build$folder)) break
    Sys.sleep(0.01)
  }
}

# The C compiler that R itself was set up with, and what it wants for a shared library.
r_compiler <- function() {
  lines <- readLines(file.path(R.home("etc"), .Platform$r_arch, "Makeconf"))
  words_of <- function(name) {
    text <- grep(sprintf("^%s *=", name), lines, value = TRUE)[[1]]
    words <- strsplit(trimws(sub("^[^=]*=([^#]*).*", "\\1", text)), " +")[[1]]
    words[!startsWith(words, "$")]
  }
  c(words_of("CC"), words_of("CPICFLAGS"), words_of("SHLIB_LDFLAGS"))
}

forget_native <- function() {
  for (built in as.list(native_programs)) if (!is.null(built$library)) dyn.unload(built$library)
  rm(list = ls(native_programs), envir = native_programs)
}
