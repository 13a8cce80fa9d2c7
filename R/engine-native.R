# Long runs go on in the program printed as C and built by R's own compiler: the same rounds, to the last bit, some
# times sooner. Where that cannot be done, the machine plays on, and nothing is said.

compiled_programs <- new.env(parent = emptyenv())
most_compiled <- 50L

# What the machine asks once it knows how long the rest of a run will take.
compiled_if_worth <- function(program) {
  if (!isTRUE(getOption("basanos.compile", TRUE)) || .Platform$OS.type != "unix") return(NULL)
  function(seconds_left) if (seconds_left < 2 * seconds_to_compile(program)) NULL else compiled_program(program)
}

# As measured over games of 27 to 724 operations; what is compiled then takes a half to a quarter of the time.
seconds_to_compile <- function(program) 0.15 + 0.0035 * ncol(program$code)

# NULL where it cannot be had; that is remembered too.
compiled_program <- function(program) {
  text <- core_printed(program)
  key <- digest::digest(text, algo = "sha256", serialize = FALSE)
  if (is.null(compiled_programs[[key]])) {
    if (length(ls(compiled_programs)) >= most_compiled) forget_compiled()
    assign(key, tryCatch(compile_text(text), error = function(e) list(play = NULL)), envir = compiled_programs)
  }
  compiled_programs[[key]]$play
}

compile_text <- function(text) {
  source <- tempfile("game-", fileext = ".c")
  library <- sub("\\.c$", .Platform$dynlib.ext, source)
  on.exit(unlink(source))
  writeLines(text, source)
  compiler <- r_compiler()
  status <- suppressWarnings(system2(compiler[[1]], c(compiler[-1], "-O2", "-ffp-contract=off", "-w", "-I", shQuote(system.file("include", package = "basanos")), "-o", shQuote(library), shQuote(source), "-lm"), stdout = FALSE, stderr = FALSE))
  if (status != 0) stop("the compiler did not build it")
  dll <- dyn.load(library)
  list(play = getNativeSymbolInfo("play_units", dll)$address, library = library)
}

# The C compiler that R itself was set up with, and what it wants for a shared library.
r_compiler <- function() {
  lines <- readLines(file.path(R.home("etc"), .Platform$r_arch, "Makeconf"))
  value <- function(name) {
    words <- strsplit(trimws(sub("^[^=]*=([^#]*).*", "\\1", grep(sprintf("^%s *=", name), lines, value = TRUE)[[1]])), " +")[[1]]
    words[!startsWith(words, "$")]
  }
  c(value("CC"), value("CPICFLAGS"), value("SHLIB_LDFLAGS"))
}

forget_compiled <- function() {
  for (built in as.list(compiled_programs)) if (!is.null(built$library)) dyn.unload(built$library)
  rm(list = ls(compiled_programs), envir = compiled_programs)
}
