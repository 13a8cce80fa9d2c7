# Writes docs/story.md: the story of the demo with what each of its commands says.
library(basanos, lib.loc = ".lib")
inside <- asNamespace("basanos")
folder <- inside$story_folder()
told <- unlist(lapply(inside$story_steps("inst/story/story.md"), function(step) {
  if (is.null(step$command)) return(step$text)
  c("```sh", step$command, "```", "", "```text", inside$story_output(step$command, folder), "```")
}))
note <- c("<!-- Written by tools/story.R from inst/story/story.md. -->", "",
          "`basanos` stands for `exec/basanos`; the files are in `inst/story`.",
          "`exec/basanos demo --story` runs all of it.",
          "")
writeLines(c(told[1:2], note, told[-(1:2)]), "docs/story.md")
