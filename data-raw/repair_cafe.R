# Makes the demo data: volunteers of neighbourhood repair cafes answer a motives questionnaire.
# All of it is made up here, from the population values below and a fixed seed.
# Run from the package root: Rscript data-raw/repair_cafe.R

set.seed(20260117)
people <- 840L

codebook <- read.csv(
  text = "
item,loading,reversed,difficulty,scale,wording
m1,0.78,no,-0.6,mending,I enjoy taking a broken thing apart to see how it works
m2,0.74,no,-0.4,mending,An afternoon at the workbench passes quickly for me
m3,0.70,no,-0.9,mending,I am proud when something I mended works again
m4,0.62,yes,-0.5,mending,Fiddling with small parts bores me
m5,0.58,no,0.1,mending,I read about tools and techniques in my free time
m6,0.66,no,-0.2,mending,A difficult repair is more fun than an easy one
t1,0.72,no,-0.3,thrift,I would rather mend something than pay for a new one
t2,0.76,no,0.0,thrift,I keep track of what repairing saves me
t3,0.60,yes,-0.2,thrift,I do not mind spending money on replacements
t4,0.42,no,-0.1,thrift,I keep spare parts in case they are useful one day
t5,0.68,no,0.2,thrift,Buying new feels like a waste of my money
t6,0.64,no,-0.1,thrift,I compare prices even for small things
n1,0.77,no,-0.7,neighbours,I come to meet people from the neighbourhood
n2,0.71,no,-0.5,neighbours,Helping a neighbour makes my day
n3,0.67,no,-0.3,neighbours,At the cafe I talk with people I would not meet otherwise
n4,0.63,no,-0.8,neighbours,It matters to me that visitors feel welcome
n5,0.59,yes,-0.6,neighbours,I prefer to work without visitors around me
n6,0.55,no,0.1,neighbours,I stay for a chat after my last repair
p1,0.79,no,-0.6,planet,Every repaired thing is one less on the rubbish heap
p2,0.73,no,-0.4,planet,I repair because making new things uses up the earth
p3,0.69,no,-0.3,planet,I think about what happens to a thing when it is thrown away
p4,0.61,yes,-0.7,planet,One repaired toaster makes no difference to the environment
p5,0.65,no,0.0,planet,I try to talk others into keeping things longer
p6,0.52,no,-0.2,planet,Using things up is good for my purse and for nature
o1,0,no,-0.3,,I like the coffee at the cafe
o2,0,no,0.3,,I usually come by bicycle
")
motives <- c("mending", "thrift", "neighbours", "planet")
between <- matrix(c(1, .30, .35, .25, .30, 1, .10, .40, .35, .10, 1, .30, .25, .40, .30, 1), 4)
pattern <- matrix(0, nrow(codebook), 4, dimnames = list(codebook$item, motives))
belongs <- which(codebook$scale != "")
pattern[cbind(belongs, match(codebook$scale[belongs], motives))] <- codebook$loading[belongs]
pattern["p6", ] <- c(0, 0.42, 0, 0.46) # belongs to two motives

motive <- matrix(rnorm(people * 4), people) %*% chol(between)
common <- motive %*% t(pattern)
unique_sd <- sqrt(1 - rowSums((pattern %*% between) * pattern))
latent <- common + matrix(rnorm(length(common)), people) %*% diag(unique_sd)
steps <- c(-1.5, -0.6, 0.3, 1.3)
answers <- vapply(seq_len(ncol(latent)), function(i) {
  1 + rowSums(outer(latent[, i], steps + codebook$difficulty[i], ">"))
}, numeric(people))
dimnames(answers) <- list(NULL, codebook$item)
reversed <- codebook$reversed == "yes"
answers[, reversed] <- 6 - answers[, reversed]

# Careless people: 12 give one answer throughout, 14 answer at random.
careless <- sample(people, 26)
answers[careless[1:12], ] <- sample(2:5, 12, replace = TRUE)
answers[careless[13:26], ] <- sample(5, 14 * ncol(answers), replace = TRUE)

# About 3 % missing: blanks scattered, more towards the end; the code 9 for "no answer" on some.
blank <- matrix(
  runif(length(answers)) < rep(seq(0.012, 0.030, length.out = ncol(answers)), each = people),
  people)
refused <- matrix(runif(length(answers)) < 0.007, people)
answers[refused] <- 9
answers[blank] <- NA
answers[sample(people, 3), 14:26] <- NA # gave up half way

cafes <- c("Canal Street", "Harbour", "Mill Lane", "Old Depot", "Park Hall", "Station")
repair_cafe <- tibble::tibble(person = sprintf("p%04d", seq_len(people)),
  cafe = sample(cafes, people, replace = TRUE, prob = c(.22, .13, .2, .15, .12, .18)),
  tibble::as_tibble(as.data.frame(answers)))
agreement <- c("not at all" = 1, "a little" = 2, "partly" = 3, "mostly" = 4, "fully" = 5)
repair_cafe_codebook <- tibble::tibble(item = codebook$item, wording = codebook$wording, lowest = 1,
  highest = 5, reversed = reversed, scale = ifelse(codebook$scale == "", NA, codebook$scale),
  missing_codes = rep(list(9), nrow(codebook)), labels = rep(list(agreement), nrow(codebook)))

save(repair_cafe, file = "data/repair_cafe.rda", version = 2, compress = "xz")
save(repair_cafe_codebook, file = "data/repair_cafe_codebook.rda", version = 2, compress = "xz")
readr::write_csv(repair_cafe, "inst/extdata/repair_cafe_answers.csv", na = "")
on_file <- repair_cafe_codebook
on_file$reversed <- ifelse(on_file$reversed, "yes", "no")
on_file$missing_codes <- vapply(on_file$missing_codes, paste, "", collapse = " ")
on_file$labels <- vapply(on_file$labels, function(x) paste(x, "=", names(x), collapse = " | "), "")
readr::write_csv(on_file, "inst/extdata/repair_cafe_codebook.csv", na = "")
