# The page's door: shiny on this machine's own address, for who has the token.

serve_page <- function(page, port, browser) {
  page$quick <- new_worker(page)
  page$slow <- new_worker(page)
  port <- if (is.null(port)) free_port(sample(20000:40000, 50L)) else free_port(port)
  page$host <- sprintf("127.0.0.1:%d", port)
  app <- shiny::shinyApp(page_body(), function(input, output, session) {
    if (!may_enter(session$request, page)) return(session$close())
    page$sessions[[session$token]] <- session
    session$onSessionEnded(function() page$sessions[[session$token]] <- NULL)
    greet(page, session)
    shiny::observeEvent(input$act, act_on_page(page, input$act))
  })
  answer <- app$httpHandler
  app$httpHandler <- function(request) answer_request(page, request, answer)
  address <- sprintf("http://%s/?token=%s", page$host, page$token)
  message(sprintf("The page: %s\nCtrl-C ends it.", address))
  begin_work(page)
  shiny::runApp(app, port = port, host = "127.0.0.1", quiet = TRUE,
    launch.browser = if (browser) function(url) utils::browseURL(address) else FALSE)
}

# The first of these ports that nobody listens to.
free_port <- function(ports) {
  for (port in ports) {
    if (quietly({
      close(serverSocket(port))
      TRUE
    })) return(port)
  }
  stop_input("argument", "There must be a free port.",
    got = sprintf("Not free: %s.", name_culprits(as.character(ports))),
    todo = "Name another one, or none: one that is free is taken.")
}

# The page itself and the report, to who asks with the token (in the address at first, in a cookie
# from then on), by this address and no other name of it.
answer_request <- function(page, request, answer) {
  asked <- shiny::parseQueryString(request$QUERY_STRING)$token
  known <- identical(request$HTTP_HOST, page$host) &&
    (identical(asked, page$token) || identical(cookie_of(request, page), page$token))
  if (!known) return(shiny::httpResponse(403L, "text/plain", page$words$refused))
  if (identical(request$PATH_INFO, "/report")) return(send_report(page))
  response <- answer(request)
  if (is.list(response) && !is.null(response$headers)) {
    response$headers <- c(as.list(response$headers), page_headers(page))
  }
  response
}

# Nothing from elsewhere, in no frame, and no address passed on.
page_headers <- function(page) {
  list("Set-Cookie" = sprintf("%s=%s; Path=/; HttpOnly; SameSite=Strict", cookie_name(page),
    page$token),
    "Content-Security-Policy" = paste("default-src 'self' 'unsafe-inline' 'unsafe-eval' data:;",
      sprintf("connect-src 'self' ws://%s; frame-ancestors 'none'", page$host)),
    "Referrer-Policy" = "no-referrer", "Cache-Control" = "no-store")
}

cookie_name <- function(page) paste0("softsieve", sub(".*:", "", page$host))

cookie_of <- function(request, page) {
  parts <- trimws(strsplit(paste(request$HTTP_COOKIE, collapse = ""), ";", fixed = TRUE)[[1L]])
  own <- parts[startsWith(parts, paste0(cookie_name(page), "="))]
  if (length(own)) sub("^[^=]*=", "", own[1L]) else ""
}

# The socket: only from the page that was served here.
may_enter <- function(request, page) {
  identical(request$HTTP_ORIGIN, paste0("http://", page$host)) &&
    identical(cookie_of(request, page), page$token)
}

send_report <- function(page) {
  file <- if (!is.null(page$written)) file.path(page$written, "report.html") else ""
  if (!file.exists(file)) return(shiny::httpResponse(404L, "text/plain", page$words$no_report))
  shiny::httpResponse(200L, "text/html; charset=UTF-8", paste(lines_of(file), collapse = "\n"),
    headers = page_headers(page))
}

# What the browser loads: bootstrap from bslib, and our own script and style. All that is seen is
# made by the script, of text only: wording is never taken for HTML.
page_body <- function() {
  folder <- tempfile("softsieve-web-")
  dir.create(folder)
  for (file in c("page.js", "page.css")) {
    write_text(packed_files("web")[[file]], file.path(folder, file))
  }
  own <- htmltools::htmlDependency("softsieve-page", utils::packageVersion("softsieve"),
    src = c(file = folder), script = "page.js", stylesheet = "page.css", all_files = FALSE)
  bslib::page(own, shiny::tags$head(shiny::tags$link(rel = "icon", href = "data:,")),
    shiny::tags$div(id = "sheet"), title = "Soft Sieve", lang = "en",
    theme = bslib::bs_theme(version = 5L))
}
