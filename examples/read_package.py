"""Reads an Ebrix data package with nothing but Python's standard library.

    python3 read_package.py ebrix-data.zip

Checks every size and SHA-256, then puts runs and figures together: mean net consumption by setup, over runs that count.
Prints one line of JSON, so that another program can take it from there.
"""

import csv
import hashlib
import io
import json
import statistics
import sys
import zipfile


def table(package, path):
    """Rows of a table as dictionaries; an empty cell is not known."""
    with package.open(path) as raw:
        return list(csv.DictReader(io.TextIOWrapper(raw, encoding="utf-8", newline="")))


def check(package, descriptor):
    """Every file is as long as it is said to be, and has its hash. Returns how many were looked at."""
    listed = {one["path"]: (one["bytes"], one["hash"].removeprefix("sha256:")) for one in descriptor["resources"]}
    for row in table(package, "data/files.csv"):
        listed[row["path"]] = (int(row["bytes"]), row["sha256"])
    for path, (size, sha256) in listed.items():
        content = package.read(path)
        if len(content) != size or hashlib.sha256(content).hexdigest() != sha256:
            sys.exit(f"{path} is not what was written")
    return len(listed)


def main(path):
    csv.field_size_limit(1 << 28)
    with zipfile.ZipFile(path) as package:
        descriptor = json.loads(package.read("datapackage.json"))
        files = check(package, descriptor)
        setups = {row["id"]: row["name"] for row in table(package, "data/setup.csv")}
        revisions = {row["id"]: setups[row["setup_id"]] for row in table(package, "data/setup_revision.csv")}
        left_out = {row["run_id"] for row in table(package, "data/run_exclusion.csv") if row["undone_at"] == ""}
        runs = {
            row["id"]: revisions[row["setup_revision_id"]]
            for row in table(package, "data/run.csv")
            if row["deleted_at"] == "" and row["test_kind"] == "range" and row["id"] not in left_out
        }
        consumption = {}
        for row in table(package, "data/figure.csv"):
            if row["key"] == "netConsumption" and row["run_id"] in runs:
                consumption.setdefault(runs[row["run_id"]], []).append(float(row["value"]))
    print(
        json.dumps(
            {
                "files": files,
                "runs": len(runs),
                "netConsumption": {
                    setup: {"runs": len(values), "mean": statistics.fmean(values), "unit": "Wh/km"}
                    for setup, values in sorted(consumption.items())
                },
            },
            ensure_ascii=False,
        )
    )


if __name__ == "__main__":
    if len(sys.argv) != 2:
        sys.exit(__doc__)
    main(sys.argv[1])
