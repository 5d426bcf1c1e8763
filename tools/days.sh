#!/usr/bin/env bash
# The browser's journeys, and every package that reads a clock, as of days on which clocks, months and years are at an
# edge, and on machines of two zones. PACKAGES and MOMENTS choose fewer.
set -euo pipefail
packages=${PACKAGES:-./e2e ./internal/... ./cmd/fairlap ./cmd/fairlap-wasm}
moments=${MOMENTS:-"2027-01-01T00:10 2028-02-29T12:00 2027-03-14T01:30 2027-11-07T01:30 2026-12-31T23:30 2031-07-15T09:00"}
turn=0
failed=0
for moment in $moments; do
  # Denver's clocks change in March and November, Phoenix's never do; every other moment is on a machine of the far east.
  town=America/Phoenix
  case $moment in 2027-03-14* | 2027-11-07*) town=America/Denver ;; esac
  machine=America/New_York
  ((turn++ % 2)) && machine=Pacific/Auckland
  echo "as of $moment in $town, on a machine of $machine"
  # shellcheck disable=SC2086
  TZ=$machine TEST_TOWN_AS_OF=$moment TEST_TOWN_ZONE=$town \
    go run ./internal/demo/stage/open go test -short -count 1 -timeout 40m -parallel 4 $packages || failed=1
done
exit $failed
