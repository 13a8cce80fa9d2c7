# A program is loaded into the core once, and optimised there; every call of a command hands on the same handle. The
# handle is kept beside the program, not in it: a program stays plain vectors, and is loaded anew in another session.

# The handle of a program, or the program itself where it has no place for one.
loaded <- function(program) {
  handle <- attr(program, "handle")
  if (is.null(handle)) return(program)
  if (!core_is_loaded(handle$core)) {
    attr(program, "handle") <- NULL
    handle$core <- core_load(program)
  }
  handle$core
}
