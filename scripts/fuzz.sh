#!/usr/bin/env bash
# Runs every fuzz target for a while each; FUZZTIME says how long. What one finds
# it keeps in testdata, and the tests run it from then on.
set -euo pipefail
cd "$(dirname "$0")/.."
for file in $(git ls-files '*fuzz_test.go'); do
  for target in $(sed -n 's/^func \(Fuzz[A-Za-z]*\)(f \*testing\.F).*/\1/p' "$file"); do
    echo "$target"
    go test "./$(dirname "$file")" -run '^$' -fuzz "^$target\$" -fuzztime "${FUZZTIME:-60s}" | grep -v '^fuzz: elapsed' || exit 1
  done
done
