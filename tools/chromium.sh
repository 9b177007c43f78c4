#!/usr/bin/env bash
# Browser tests need Chromium. Install it where that is possible; otherwise say how, and fail.
set -u
for name in chromium chromium-browser google-chrome; do
  command -v "$name" >/dev/null && exit 0
done
echo "Chromium is missing; trying to install Debian's package."
if [ "$(id -u)" = 0 ]; then
  apt-get update -qq && apt-get install -y -qq chromium >/dev/null
elif command -v sudo >/dev/null && sudo -n true 2>/dev/null; then
  sudo -n apt-get update -qq && sudo -n apt-get install -y -qq chromium >/dev/null
fi
command -v chromium >/dev/null && exit 0
echo "Chromium is missing and could not be installed. Install it, then run make test again:"
echo "    sudo apt-get install chromium"
exit 1
