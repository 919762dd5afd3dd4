#!/usr/bin/env bash
# Make sure there is a Chromium for the browser tests; say plainly what to do when there cannot be one.
set -euo pipefail
if command -v chromium >/dev/null; then exit 0; fi
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
  echo "Installing Debian's Chromium for the browser tests…"
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends chromium >/dev/null
fi
if ! command -v chromium >/dev/null; then
  echo "The browser tests need Chromium. Install the package chromium (as root: apt-get install chromium)," >&2
  echo "then run make test again." >&2
  exit 1
fi
