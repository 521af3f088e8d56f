#!/bin/sh
# Installs what is missing of Debian's packages: the database server, and for
# tests and pictures the browser and a font with all signs.
set -e
missing=
ls /usr/lib/postgresql/*/bin/postgres >/dev/null 2>&1 || missing="$missing postgresql"
[ -x /usr/bin/chromium-headless-shell ] || missing="$missing chromium-headless-shell"
ls /usr/share/fonts/truetype/dejavu/DejaVuSans.ttf >/dev/null 2>&1 || missing="$missing fonts-dejavu-core"
[ -n "$missing" ] || exit 0
command -v apt-get >/dev/null || {
	echo "White Barn needs$missing, and this system has no apt-get. Install them, then run make again." >&2
	exit 1
}
as=
if [ "$(id -u)" != 0 ]; then
	command -v sudo >/dev/null || {
		echo "White Barn needs$missing. As root, run: apt-get install --no-install-recommends$missing" >&2
		exit 1
	}
	as=sudo
fi
echo "Installing$missing"
export DEBIAN_FRONTEND=noninteractive
$as apt-get update -qq
# shellcheck disable=SC2086
$as apt-get install -y -qq --no-install-recommends $missing
