# Writes docs/document.md: the example of a document with rules in it, as knitr renders it.
.libPaths(c(normalizePath(".lib"), .libPaths()))
setwd("docs")
lines <- readLines(knitr::knit("document.Rmd", quiet = TRUE))
lines <- grep('^(<div class="figure">|<p class="caption">.*|</div>)$', lines, invert = TRUE, value = TRUE)
head <- seq_len(match("---", lines[-1]) + 1)
title <- sub("^title: \"(.*)\"$", "# \\1", grep("^title:", lines[head], value = TRUE))
writeLines(c(title, "", "<!-- Written by tools/document.R from document.Rmd. -->", lines[-head]), "document.md")
