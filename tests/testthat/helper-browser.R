# A page in a real headless browser, where one is installed.

browser <- function() {
  found <- Sys.which(c("chromium", "chromium-browser", "google-chrome"))
  found <- found[nzchar(found)]
  testthat::skip_if(length(found) == 0, "no headless browser is installed")
  testthat::skip_if_not_installed("processx")
  unname(found[[1]])
}

browse <- function(path, ...)
  processx::run(browser(), c("--headless=new", "--no-sandbox", "--disable-gpu", "--hide-scrollbars", ...,
                             paste0("file://", normalizePath(path))), timeout = 60, error_on_status = FALSE)

# The page as it is printed, a row for each word: page, width and height of the page, left and right of the word, word.
# Lengths are in points.
page_printed <- function(path) {
  testthat::skip_if(!nzchar(Sys.which("pdftotext")), "nothing reads PDF here")
  files <- tempfile(fileext = c(".pdf", ".html"))
  on.exit(unlink(files))
  run <- browse(path, "--no-pdf-header-footer", paste0("--print-to-pdf=", files[[1]]))
  if (!file.exists(files[[1]])) stop("the page was not printed: ", substr(run$stderr, 1, 500))
  processx::run("pdftotext", c("-bbox", files))
  lines <- readLines(files[[2]], encoding = "UTF-8", warn = FALSE)
  on_page <- cumsum(grepl("<page ", lines))
  number <- function(of, name) as.numeric(sub(sprintf(".* %s=\"([0-9.-]+)\".*", name), "\\1", of))
  pages <- grep("<page ", lines, value = TRUE)
  words <- grepl("<word ", lines)
  data.frame(page = on_page[words], width = number(pages, "width")[on_page[words]],
             height = number(pages, "height")[on_page[words]],
             left = number(lines[words], "xMin"), right = number(lines[words], "xMax"),
             word = gsub("<[^>]+>|&[a-z]+;", " ", lines[words]))
}

# A browser breaks lines at other signs.
words_of <- function(text) unique(setdiff(unlist(strsplit(text, "[^[:alnum:].%]+")), ""))

# The words in the tables of a page, but for what its script writes anew.
words_in_tables <- function(path) {
  page <- paste(readLines(path, encoding = "UTF-8", warn = FALSE), collapse = " ")
  tables <- unlist(regmatches(page, gregexpr("<table.*?</table>", page, perl = TRUE)))
  text <- gsub("<svg.*?</svg>|<td class=\"number change\">.*?</td>", " ", tables, perl = TRUE)
  words_of(gsub("<[^>]+>|&[a-z]+;", " ", text))
}

# What the page says of itself at some width: list(errors, width, inner, dead, sliders, before, after, unlabelled).
page_seen <- function(path, width) {
  probe <- '
    const result = { errors: window.__errors, width: document.documentElement.scrollWidth, inner: window.innerWidth };
    const all = (query, from = document) => [...from.querySelectorAll(query)];
    result.dead = all("a[href^=\\"#\\"]").filter(a => !document.getElementById(a.getAttribute("href").slice(1))).length;
    const ids = all("[id]").map(e => e.id);
    result.twice = ids.length - new Set(ids).size;
    result.unlabelled = all("svg").filter(s => !(s.getAttribute("aria-label") || "").length).length;
    result.headless = all("table").filter(t => !t.querySelector("th[scope=col]")).length;
    const turned = document.querySelector(".turn input");
    const cells = () => all(".chosen").map(c => c.textContent);
    result.before = cells();
    if (turned) {
      turned.value = Number(turned.value) > 0 ? Number(turned.value) - 1 : 1;
      turned.dispatchEvent(new Event("input"));
      result.said = turned.parentElement.querySelector("output").textContent;
    }
    result.after = cells();
    result.curves = all(".curve svg").length;
    parent.told(JSON.stringify(result));'
  page <- paste(readLines(path, encoding = "UTF-8", warn = FALSE), collapse = "\n")
  watch <- "<script>window.__errors = []; window.onerror = m => { window.__errors.push(String(m)); };</script></head>"
  page <- sub("</head>", watch, page, fixed = TRUE)
  page <- sub("</body>", sprintf("<script>window.onload = () => {%s};</script></body>", probe), page, fixed = TRUE)
  # Windows have a least width; a frame has any.
  page <- gsub("</", "<\\/", jsonlite::toJSON(page, auto_unbox = TRUE), fixed = TRUE)
  page <- c("<!DOCTYPE html><body><pre id=\"probe\"></pre><script>",
            "window.told = text => { document.getElementById(\"probe\").textContent = text; };",
            "const frame = document.createElement(\"iframe\");",
            sprintf("frame.style.cssText = \"width:%dpx;height:800px;border:0\"; frame.srcdoc = %s;", width, page),
            "document.body.append(frame);</script></body>")
  copy <- tempfile(fileext = ".html")
  on.exit(unlink(copy))
  writeLines(page, copy, useBytes = TRUE)
  run <- browse(copy, "--virtual-time-budget=5000", "--dump-dom")
  said <- regmatches(run$stdout, regexec("<pre id=\"probe\">([^<]+)</pre>", run$stdout))[[1]]
  if (length(said) < 2) stop("the page did not answer: ", substr(run$stderr, 1, 500))
  jsonlite::fromJSON(gsub("&amp;", "&", gsub("&lt;", "<", gsub("&gt;", ">", said[[2]]))))
}
