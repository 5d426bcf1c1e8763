#!/usr/bin/env bash
# The house's own rules that no compiler knows: how the last commits are named, and that nothing built is tracked.
set -euo pipefail
git rev-parse --git-dir >/dev/null 2>&1 || exit 0 # a copy without its history
bad=$(git log -8 --no-merges --format=%s | grep -vE '^[a-z0-9/_.-]+: .{1,70}$' || true)
long=$(git log -8 --no-merges --format=%s | awk 'length($0) > 72')
[ -z "$bad$long" ] || { echo "commit subjects are 'room: what it does', 72 letters at most:"; echo "$bad$long"; exit 1; }
built=$(git ls-files | grep -E 'tsbuildinfo$|\.part$|(^|/)(dist|bin)/.*\.(js|wasm|br|gz)$' || true)
[ -z "$built" ] || { echo "build output is tracked: $built"; exit 1; }
