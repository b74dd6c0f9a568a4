#!/usr/bin/env bash
# Makes sure that there is a Chromium for the tests of the console, and what drives it for files that are drawn; installs Debian's if it may.
set -u
command -v "${CHROMIUM:-chromium}" > /dev/null && command -v chromedriver > /dev/null && exit 0
sudo=""
[ "$(id -u)" -eq 0 ] || sudo="sudo -n"
log=$(mktemp)
if { $sudo apt-get update && DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y --no-install-recommends chromium chromium-driver; } > "$log" 2>&1; then exit 0; fi
tail -n 5 "$log"
echo "The console's tests need Chromium: install Debian's packages chromium and chromium-driver, or set CHROMIUM to the program." >&2
exit 1
