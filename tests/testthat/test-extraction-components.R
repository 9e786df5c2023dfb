# Components and their layers; covariances as against correlations.

test_that("two items by hand", {
  r <- matrix(c(1, .6, .6, 1), 2, dimnames = list(c("a", "b"), NULL))
  s <- extract_components(r, 2, n = 50)
  expect_equal(s$values$variance$sum_of_squares, c(1.6, .4))
  expect_equal(abs(s$values$loadings), matrix(sqrt(c(.8, .8, .2, .2)), 2), ignore_attr = TRUE)
  expect_identical(colnames(s$values$loadings), c("C1", "C2"))
  expect_equal(s$values$items$uniqueness, c(0, 0))
  expect_equal(extract_components(r, 1, n = 50)$values$items$uniqueness, c(.2, .2))
})

test_that("layers add up to the matrix, and nothing is left after the last", {
  for (analysed in c("correlations", "covariances")) {
    s <- extract_components(motives(), 3, analyse = analysed)
    layers <- component_layers(s)
    m <- layers$values$matrix
    q <- correlate_items(motives())$values
    expect_equal(m, if (analysed == "correlations") {
      q$correlations
    } else {
      q$correlations * (q$items$sd %o% q$items$sd)
    })
    one <- fitted(layers, component = 1)
    expect_equal(one + residuals(layers, after = 1), m)
    expect_equal(residuals(layers, after = 2), m - one - fitted(layers, component = 2))
    expect_equal(qr(one)$rank, 1)
    expect_lt(max(abs(residuals(layers, after = 25) - fitted(layers, component = 26))), 1e-12)
    expect_identical(max(abs(residuals(layers, after = 26))), 0)
    left <- residuals(layers, after = 3)
    expect_equal(layers$values$table$rmsr[3], sqrt(mean(left[upper.tri(left)]^2)))
    # three components reproduce three layers, the rest of each item's variance being its uniqueness
    expect_equal(fitted(s)[upper.tri(m)], (m - left)[upper.tri(m)])
    expect_equal(diag(fitted(s)), diag(m))
    expect_equal(sum(s$values$variance$share), layers$values$table$cumulative_share[3])
  }
  expect_output(print(layers), "Covariances of 26 items, layer by layer")
  expect_error(component_layers(extract_factors(motives(), 2)), "one of components",
    class = "softsieve_error_class")
  expect_error(residuals(layers, after = 27), "from 0 to 26", class = "softsieve_error_argument")
})

test_that("the number of components: a share, a rule, all of them, or an error", {
  share <- extract_components(motives(), 0.5)
  expect_gte(sum(share$values$variance$share), .5)
  expect_lt(sum(share$values$variance$share[-share$settings$factors]), .5)
  expect_match(share$settings$factors_by, "50 % of the variance")
  expect_equal(extract_components(motives(), "eigenvalue_one", seed = 1)$settings$factors,
    sum(eigen(correlate_items(motives())$values$correlations)$values > 1))
  expect_equal(extract_components(motives(), 26)$values$fit$largest_residual, 0)
  for (wrong in list(0, 27, 2.5, -1, NA_real_, c(1, 2))) {
    expect_error(extract_components(motives(), wrong), "26 items allow 1 to 26 components",
      class = "softsieve_error_factors")
  }
  # an item that is the sum of others is no trouble for components
  answers <- repair_cafe[paste0("m", 1:3)]
  answers$all <- rowSums(answers)
  expect_equal(sum(extract_components(answers, 3)$values$variance$share), 1, tolerance = 1e-2)
})

test_that("rotated components reproduce what unrotated ones do, and can be scored", {
  s <- factor_solution(motives(), 4, method = "components", rotation = "varimax", seed = 1)
  expect_equal(fitted(s), fitted(extract_components(motives(), 4)))
  expect_identical(s$values$variance$factor, paste0("C", 1:4))
  expect_equal(sum(s$values$variance$sum_of_squares),
    sum(s$values$variance_unrotated$sum_of_squares))
  scores <- score_respondents(s, motives())
  complete <- complete.cases(motives()$values$answers)
  # scores of components are exact: the items' weighted sums
  expect_equal(scores$values$factors$determinacy, rep(1, 4), tolerance = 1e-6)
  expect_gt(sum(complete), 300)
})

test_that(
  "methods that are free of scale find the same factors in covariances, the others do not",
  {
    q <- motives(items = m1:t6)
    d <- sqrt(diag(
      correlate_items(q, missing = "complete", kind = "covariance")$values$covariances))
    for (method in c("ml", "gls", "alpha", "image", "minres", "principal_axis")) {
      r <- extract_factors(q, 2, missing = "complete", method = method)
      s <- extract_factors(q, 2, missing = "complete", method = method, analyse = "covariances")
      apart <- max(abs(r$values$loadings - s$values$loadings))
      if (method %in% c("ml", "gls", "alpha", "image")) {
        expect_lt(apart, 1e-5, label = method)
      } else {
        expect_gt(apart, 1e-4, label = method)
      }
      expect_equal(s$values$raw_loadings, s$values$loadings * d, ignore_attr = TRUE)
      expect_equal(fitted(s) + residuals(s),
        cov(q$values$answers[complete.cases(q$values$answers), ]), tolerance = 1e-6)
    }
    expect_null(r$values$raw_loadings)
    # minimum residuals of covariances: a brute force search over loadings finds nothing lower
    s <- extract_factors(q, 2, missing = "complete", kind = "covariance")
    expect_identical(s$settings$analysed, "covariances")
    m <- fitted(s) + residuals(s)
    f <- function(l) sum(((m - tcrossprod(matrix(l, 12)))[upper.tri(m)])^2)
    brute <- optim(s$values$raw_loadings + .1, f, method = "BFGS",
      control = list(maxit = 2000, reltol = 1e-14))
    expect_equal(f(s$values$raw_loadings), brute$value, tolerance = 1e-7)
  })

test_that("a covariance matrix may be given, and items in different units are told of", {
  s <- extract_factors(correlate_items(ability.cov$cov, n = ability.cov$n.obs, kind = "covariance"),
    2)
  expect_equal(fitted(s) + residuals(s), ability.cov$cov)
  expect_match(s$findings$text[s$findings$code == "different_units"],
    "blocks is 4.7 times that of picture")
  expect_false(
    "different_units" %in%
      extract_factors(correlate_items(ability.cov$cov, n = 112, kind = "covariance"), 2,
        method = "ml")$findings$code)
  expect_output(print(s), "of covariances")
  for (bad in list(-ability.cov$cov, ability.cov$cov[, 1:3], replace(ability.cov$cov, 2, 99))) {
    expect_error(correlate_items(bad, n = 112, kind = "covariance"), "covariance matrix must be",
      class = "softsieve_error_matrix")
  }
  expect_error(extract_factors(motives(), 2, kind = "spearman", analyse = "covariances"),
    "kind \"spearman\"", class = "softsieve_error_argument")
})

test_that("under the loadings stand the shares, and what chance would give the first", {
  x <- matrix(rnorm(60 * 8), 60)
  s <- extract_components(correlate_items(cor(x), n = 60), 2)
  set.seed(2)
  plain <- replicate(400, eigen(cor(matrix(rnorm(60 * 8), 60)), TRUE, TRUE)$values[1] / 8)
  expect_equal(s$values$fit$first_by_chance, mean(plain), tolerance = .02)
  expect_identical(s$values$fit$first_by_chance,
    extract_components(correlate_items(cor(x), n = 60), 3)$values$fit$first_by_chance)
  percent <- function(share) sprintf("%.0f %%", 100 * share)
  shares <- eigen(cor(x))$values[1:2] / 8
  said <- paste(capture.output(print(s)), collapse = " ")
  said <- gsub("\\s+", " ", said)
  expect_match(said, sprintf("C1 %s, C2 %s; together %s. Chance would give the first %s.",
    percent(shares[1]), percent(shares[2]), percent(sum(shares)),
    percent(s$values$fit$first_by_chance)), fixed = TRUE)
  expect_match(said, "of correlations")
  expect_error(print(s, pattern = "mine"), class = "softsieve_error_class")
  # where unrelated columns vary by more than those of equal people, nothing is said of chance
  w <- questionnaire(data.frame(x, w = rep(c(.5, 1.5), 30)), items = paste0("X", 1:8), weight = "w")
  expect_identical(extract_components(w, 2)$values$fit$first_by_chance, NA_real_)
  expect_match(said, "score_formula.*reconstruct_responses.*rotate_factors")
  # rotated, the first is not the one that chance is told of
  turned <- gsub("\\s+", " ", paste(capture.output(print(rotate_factors(s, "varimax", seed = 1))),
    collapse = " "))
  expect_match(turned, sprintf("Unrotated the first has %s; chance would give it %s",
    percent(shares[1]), percent(s$values$fit$first_by_chance)))
  # what each is made of, in per cent of its squared loadings
  l <- coef(s)
  told <- gsub("\\s+", " ", paste(capture.output(print(summary(s))), collapse = " "))
  for (j in 1:2) {
    first <- which.max(abs(l[, j]))
    share <- sprintf("%.0f %% %s", 100 * l[first, j]^2 / sum(l[, j]^2), rownames(l)[first])
    expect_match(told, sprintf("C%d: [^:]*%s", j, share))
  }
  made <- softsieve:::component_sentences(cbind(C1 = c(a = .8, b = .6, c = -.5, d = .01),
    C2 = c(-.9, -.3, .1, 0)))
  expect_identical(made, c("C1: 51 % a, 29 % b and 1 smaller; against 20 % c.",
    "C2: against 89 % a and 10 % b; with 2 smaller."))
  # of covariances nothing is known of chance, but of the largest variance
  y <- as.data.frame(x %*% diag(c(5, rep(1, 7))))
  of <- extract_components(y, 2, analyse = "covariances")
  expect_identical(of$values$fit$first_by_chance, NA_real_)
  expect_output(print(of), sprintf("V1 alone\\s+has %s", percent(var(y[[1]]) / sum(diag(cov(y))))))
  # factors have shares, too
  expect_output(print(solution4()), "Shares of the variance: F1")
})
