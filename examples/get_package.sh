#!/bin/sh
# Fetches everything as a data package: get_package.sh [address] [file]
set -eu
curl --fail --silent --show-error --output "${2:-ebrix-data.zip}" "${1:-http://127.0.0.1:4180}/api/package"
