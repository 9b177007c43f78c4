#!/usr/bin/env bash
# Make the virtual environment; where Debian's venv package is missing, install it or say how.
set -u
python="$1" target="$2"
"$python" -c 'import sys; sys.exit(sys.version_info < (3, 11))' || {
  echo "Python 3.11 or newer is needed. Install it, or name it: make PYTHON=python3.12"
  exit 1
}
test -x "$target/bin/python" && test -x "$target/bin/pip" && exit 0
"$python" -m venv "$target" >/dev/null 2>&1 && exit 0
rm -rf "$target"
package="python$("$python" -c 'import sys; print("%d.%d" % sys.version_info[:2])')-venv"
echo "$python cannot make a virtual environment yet; trying to install $package."
if [ "$(id -u)" = 0 ]; then
  apt-get update -qq && apt-get install -y -qq "$package" >/dev/null
elif command -v sudo >/dev/null && sudo -n true 2>/dev/null; then
  sudo -n apt-get update -qq && sudo -n apt-get install -y -qq "$package" >/dev/null
fi
"$python" -m venv "$target" && exit 0
echo "Install it, then run make again:"
echo "    sudo apt-get install $package"
exit 1
