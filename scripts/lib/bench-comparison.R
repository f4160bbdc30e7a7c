# What a comparison takes in R: the mixed model with its pairs, and the methods for two setups with as many resamples. Milliseconds, the median of five.
suppressMessages({
  library(lmerTest)
  library(emmeans)
})
args <- commandArgs(trailingOnly = TRUE)
runs <- read.csv(args[1])
resamples <- as.integer(args[2])
runs$setup <- factor(runs$setup)
runs$outing <- factor(runs$outing)
emm_options(msg.interaction = FALSE)
model <- function() {
  fit <- lmer(value ~ setup + (1 | outing), runs)
  anova(fit)
  means <- emmeans(fit, "setup", lmer.df = "satterthwaite")
  c(as.data.frame(means)$emmean, as.data.frame(confint(pairs(means, adjust = "tukey")))$lower.CL)
}
a <- runs$value[runs$setup == levels(runs$setup)[1]]
b <- runs$value[runs$setup == levels(runs$setup)[2]]
two <- function() {
  margin <- 0.05 * mean(a)
  t.test(a, b)
  t.test(a, b, mu = -margin, alternative = "greater")
  t.test(a, b, mu = margin, alternative = "less")
  wilcox.test(a, b, conf.int = TRUE)
  everything <- c(a, b)
  shuffled <- replicate(resamples, {
    picked <- sample.int(length(everything), length(a))
    mean(everything[picked]) - mean(everything[-picked])
  })
  p <- mean(abs(shuffled) >= abs(mean(a) - mean(b)))
  drawn <- replicate(resamples, mean(sample(a, replace = TRUE)) - mean(sample(b, replace = TRUE)))
  quantile(drawn, c(0.025, 0.975))
}
timed <- function(work) {
  work()
  1000 * median(replicate(5, {
    gc(FALSE)
    begun <- proc.time()[["elapsed"]]
    work()
    proc.time()[["elapsed"]] - begun
  }))
}
cat(sprintf('{"model": %.3f, "two": %.3f, "means": [%s]}\n', timed(model), timed(two),
  paste(sprintf("%.10f", model()[seq_along(levels(runs$setup))]), collapse = ", ")))
