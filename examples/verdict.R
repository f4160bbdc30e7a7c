# Comes to the verdicts of an Ebrix data package by R's own means: Rscript verdict.R ebrix-data.zip
# Setups that shared outings: a linear model with outings as blocks. Setups on outings of their own: outings as a random sample, REML,
# Satterthwaite's degrees of freedom. Pairs by emmeans, intervals after Tukey. Stops where an interval is not Ebrix's own.
suppressMessages({
  library(lmerTest)
  library(emmeans)
})
path <- commandArgs(trailingOnly = TRUE)[1]
table_of <- function(name) read.csv(unz(path, name), encoding = "UTF-8", stringsAsFactors = FALSE)
runs <- table_of("derived/trial_runs.csv")
runs <- runs[runs$counts == "true" | runs$counts == TRUE, ]
verdicts <- table_of("derived/verdicts.csv")
# Robust errors are another model; the rest is lm and lmer.
verdicts <- verdicts[verdicts$design %in% c("blocked", "mixed") & !is.na(verdicts$difference) &
  !grepl("robust", verdicts$method), ]
worst <- 0
for (trial in unique(verdicts$trial)) {
  said <- verdicts[verdicts$trial == trial, ]
  own <- runs[runs$trial == trial, ]
  own$letter <- factor(own$letter)
  own$outing <- factor(own$outing)
  model <- if (said$design[1] == "blocked") {
    lm(value ~ letter + outing, own)
  } else {
    lmer(value ~ letter + (1 | outing), own)
  }
  means <- emmeans(model, "letter", lmer.df = "satterthwaite")
  adjust <- if (nlevels(own$letter) > 2) "tukey" else "none"
  found <- as.data.frame(confint(pairs(means), level = 1 - said$level[1], adjust = adjust))
  names(found)[(ncol(found) - 1):ncol(found)] <- c("lower", "upper")
  off <- max(abs(found$estimate - said$difference), abs(found$SE - said$standard_error))
  # What loggers share is beyond a model of the runs alone: Ebrix adds it to the interval.
  if (all(said$shared_uncertainty == 0)) off <- max(off, abs(found$lower - said$lower), abs(found$upper - said$upper))
  worst <- max(worst, off)
  cat(sprintf("%-58s %-8s off by %.2g\n", substr(said$question[1], 1, 58), said$design[1], off))
}
cat(sprintf("%d trials, the furthest off by %.2g\n", length(unique(verdicts$trial)), worst))
if (worst > 1e-4) stop("an interval differs")
