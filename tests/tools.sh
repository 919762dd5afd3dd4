#!/usr/bin/env bash
# Make sure that the tests have Debian's headless Chromium and its compiler for shaders; say plainly what to do when
# they cannot. Where only the Chromium with windows is there and nothing may be installed, it does, more slowly.
set -euo pipefail
shell=chromium-headless-shell
missing=()
command -v $shell >/dev/null || missing+=($shell)
command -v glslangValidator >/dev/null || missing+=(glslang-tools)
if [ ${#missing[@]} -eq 0 ]; then exit 0; fi
if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
  echo "Installing ${missing[*]} for the tests…"
  apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null
fi
if ! { command -v $shell || command -v chromium; } >/dev/null || ! command -v glslangValidator >/dev/null; then
  echo "The tests need the packages $shell and glslang-tools (as root: apt-get install $shell glslang-tools)." >&2
  echo "Install them, then run make test again." >&2
  exit 1
fi
