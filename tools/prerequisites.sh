#!/bin/sh
# Go and Node must be there; Debian's own are older than needed.
fail() {
	echo "White Barn needs $1. $2" >&2
	exit 1
}
command -v go >/dev/null || fail "Go 1.26 or newer" "Install it from go.dev/dl, then run make again."
v=$(go env GOVERSION | sed 's/^go//')
[ "$(printf '%s\n' 1.26 "$v" | sort -V | head -n 1)" = 1.26 ] || fail "Go 1.26 or newer" "This is Go $v."
command -v node >/dev/null || fail "Node.js 20.19 or newer, with npm" "Install it from nodejs.org, then run make again."
v=$(node --version | sed 's/^v//')
[ "$(printf '%s\n' 20.19 "$v" | sort -V | head -n 1)" = 20.19 ] || fail "Node.js 20.19 or newer" "This is Node $v."
command -v npm >/dev/null || fail "npm" "It comes with Node.js."
