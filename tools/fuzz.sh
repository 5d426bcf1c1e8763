#!/usr/bin/env bash
# Runs every fuzz target for a while, one after the other: tools/fuzz.sh 60s
set -euo pipefail
for package in $(go list ./core/... ./internal/...); do
  for target in $(go test -list '^Fuzz' "$package" 2>/dev/null | grep '^Fuzz' || true); do
    echo "$package $target"
    # What was found is not made smaller for minutes.
    go test -run '^$' -fuzz "^$target\$" -fuzztime "${1:-60s}" -fuzzminimizetime 2s "$package" | tail -1
  done
done
