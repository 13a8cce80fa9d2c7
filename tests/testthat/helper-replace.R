# Runs `code` with a function of the package replaced: to see what happens where the world is not as it should be.
with_replaced <- function(name, replacement, code) {
  space <- asNamespace("basanos")
  before <- get(name, space)
  put <- function(x) {
    unlockBinding(name, space)
    assign(name, x, space)
    lockBinding(name, space)
  }
  put(replacement)
  on.exit(put(before))
  force(code)
}
