# Reads an Ebrix data package: Rscript read_package.R ebrix-data.zip
# Mean net consumption by setup, over runs that count; needs jsonlite for the line of JSON it prints.
path <- commandArgs(trailingOnly = TRUE)[1]
table_of <- function(name) read.csv(unz(path, name), colClasses = "character", encoding = "UTF-8", check.names = FALSE)

setups <- table_of("data/setup.csv")
revisions <- table_of("data/setup_revision.csv")
revisions$setup <- setups$name[match(revisions$setup_id, setups$id)]
exclusions <- table_of("data/run_exclusion.csv")
runs <- table_of("data/run.csv")
runs <- runs[runs$deleted_at == "" & runs$test_kind == "range" &
  !(runs$id %in% exclusions$run_id[exclusions$undone_at == ""]), ]
figures <- table_of("data/figure.csv")
figures <- figures[figures$key == "netConsumption" & figures$run_id %in% runs$id, ]
figures$setup <- revisions$setup[match(runs$setup_revision_id[match(figures$run_id, runs$id)], revisions$id)]
means <- tapply(as.numeric(figures$value), figures$setup, mean)
cat(jsonlite::toJSON(list(runs = nrow(runs), netConsumption = as.list(means)), auto_unbox = TRUE, digits = NA), "\n")
