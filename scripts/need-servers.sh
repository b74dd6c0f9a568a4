#!/usr/bin/env bash
# Makes sure that there are PostgreSQL, MariaDB and git for the tests; installs Debian's if it may. No server of theirs is left running:
# the tests start their own, each on a free loopback port with a folder of its own.
set -u
missing=""
ls /usr/lib/postgresql/*/bin/postgres > /dev/null 2>&1 || missing="$missing postgresql"
{ [ -x /usr/sbin/mariadbd ] || [ -x /usr/bin/mariadbd ]; } || missing="$missing mariadb-server"
command -v git > /dev/null || missing="$missing git"
[ -n "$missing" ] || exit 0
sudo=""
[ "$(id -u)" -eq 0 ] || sudo="sudo -n"
log=$(mktemp)
# shellcheck disable=SC2086
if { $sudo apt-get update && DEBIAN_FRONTEND=noninteractive $sudo apt-get install -y --no-install-recommends $missing; } > "$log" 2>&1; then exit 0; fi
tail -n 5 "$log"
echo "The tests need Debian's packages$missing." >&2
exit 1
