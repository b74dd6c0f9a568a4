#!/usr/bin/env bash
# Runs every test and ends with one line: N passed, N failed.
set -u
cd "$(dirname "$0")/.."
logs=$(mktemp -d)
console=
trap '[ -z "$console" ] || pkill -P "$console"; rm -rf "$logs"' EXIT
passed=0
failed=0
scripts/need-chromium.sh
scripts/need-servers.sh

# The browser waits more than it works: its tests run beside the others.
for project in unit e2e; do
  (cd console && npx --no-install vitest run --project "$project" --reporter=default --reporter=json --outputFile.json="$logs/$project.json") > "$logs/$project" 2>&1
  echo "$?" > "$logs/$project.code"
done &
console=$!

for project in Core Store Demo Engines Service Attack Cli; do
  program=tests/Weir.$project.Tests/bin/Release/net10.0/Weir.$project.Tests
  echo "== Weir.$project.Tests"
  "$program" -noColor > "$logs/$project" 2>&1
  code=$?
  total=$(sed -nE 's/.*Total: ([0-9]+),.*/\1/p' "$logs/$project" | tail -n 1)
  errors=$(sed -nE 's/.*Errors: ([0-9]+),.*/\1/p' "$logs/$project" | tail -n 1)
  bad=$(sed -nE 's/.*Failed: ([0-9]+),.*/\1/p' "$logs/$project" | tail -n 1)
  bad=$(( ${bad:-0} + ${errors:-0} ))
  # A test program that dies without a summary has failed, whatever it counted.
  if [ -z "${total:-}" ] || { [ "$code" -ne 0 ] && [ "$bad" -eq 0 ]; }; then bad=$((bad + 1)); total=${total:-1}; fi
  if [ "$bad" -ne 0 ]; then
    grep -v '^ *$' "$logs/$project" | tail -n 80
    grep -A 3 '\[FAIL\]' "$logs/$project" | cut -c 1-300 >> "$logs/names"
  fi
  echo "   $((total - bad)) passed, $bad failed"
  passed=$((passed + total - bad))
  failed=$((failed + bad))
done

wait "$console"
console=
for project in unit e2e; do
  echo "== console $project"
  code=$(cat "$logs/$project.code" 2> /dev/null || echo 1)
  counts=$(node -e 'const r = JSON.parse(require("fs").readFileSync(process.argv[1])); console.log(r.numPassedTests, r.numFailedTests + (r.numFailedTests === 0 && !r.success ? 1 : 0))' "$logs/$project.json" 2> /dev/null || echo "0 1")
  good=${counts% *}
  bad=${counts#* }
  if [ "$code" -ne 0 ] && [ "$bad" -eq 0 ]; then bad=1; fi
  if [ "$bad" -ne 0 ]; then
    tail -n 80 "$logs/$project"
    node scripts/failures.mjs "$logs/$project.json" >> "$logs/names"
  fi
  echo "   $good passed, $bad failed"
  passed=$((passed + good))
  failed=$((failed + bad))
done

# Once more at the end, where whoever keeps only the last lines finds what it was.
[ ! -s "$logs/names" ] || { echo "== What failed"; cat "$logs/names"; }
echo "$passed passed, $failed failed"
[ "$failed" -eq 0 ]
