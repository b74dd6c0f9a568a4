#!/usr/bin/env bash
# Makes sure that there is a Chromium for the tests of the console, and what draws files and drives that; installs Debian's if it may.
set -u
is_there() { command -v "${CHROMIUM:-chromium}" > /dev/null && command -v chromedriver > /dev/null; }
is_there && command -v chromium-headless-shell > /dev/null && exit 0
sudo=""
[ "$(id -u)" -eq 0 ] || sudo="sudo -n"
log=$(mktemp)
install() { DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y --no-install-recommends "$@"; }
# The one without windows begins sooner; the whole one draws the same where it is missing.
if { $sudo apt-get update && install chromium chromium-driver && { install chromium-headless-shell || true; }; } > "$log" 2>&1; then exit 0; fi
is_there && exit 0
tail -n 5 "$log"
echo "The console's tests need Chromium: install Debian's packages chromium and chromium-driver, or set CHROMIUM to the program." >&2
exit 1
