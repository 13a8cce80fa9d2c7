# Long runs go on in the program printed as C and built by R's own compiler: the same rounds, to the last bit, some
# times sooner. Where that cannot be done, the machine plays on, and nothing is said.

compiled_programs <- new.env(parent = emptyenv())
most_compiled <- 50L

# What the machine asks once it knows how long the rest of a run will take.
compiled_if_worth <- function(program) {
  if (!isTRUE(getOption("basanos.compile", TRUE)) || .Platform$OS.type != "unix") return(NULL)
  function(seconds_left) if (seconds_left < 3 * seconds_to_compile(program)) NULL else compiled_program(program)
}

# Measured: see bench/.
seconds_to_compile <- function(program) 0.1 + 4e-4 * ncol(program$code)

compiled_program <- function(program) {
  tryCatch({
    if (recalls(program)) return(NULL)
    text <- core_printed(program)
    key <- digest::digest(text, algo = "sha256", serialize = FALSE)
    if (is.null(compiled_programs[[key]])) {
      if (length(ls(compiled_programs)) >= most_compiled) forget_compiled()
      assign(key, compile_text(text, key), envir = compiled_programs)
    }
    compiled_programs[[key]]$play
  }, error = function(e) NULL)
}

# Only the machine recalls answers, which saves more than compiling does.
recalls <- function(program) any(program$code[1, ] == operation_codes()[["RECALL"]])

compile_text <- function(text, key) {
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
  for (key in ls(compiled_programs)) dyn.unload(compiled_programs[[key]]$library)
  rm(list = ls(compiled_programs), envir = compiled_programs)
}
