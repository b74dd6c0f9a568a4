#!/usr/bin/env bash
# Makes console/src/api/schema.d.ts from the OpenAPI document of the service as it is built now.
set -eu
cd "$(dirname "$0")/.."
data=$(mktemp -d)
./weir serve --data "$data" --workspace demo/lantern-isles --port 0 > "$data/log" 2>&1 &
service=$!
trap 'kill "$service"; rm -rf "$data"' EXIT
until url=$(grep -oE 'http://[0-9.:]+[0-9]' "$data/log"); do kill -0 "$service"; done
curl -sf "$url/openapi/v1.json" > "$data/openapi.json"
(cd console && npx --no-install openapi-typescript "$data/openapi.json" -o "${1:-src/api/schema.d.ts}")
