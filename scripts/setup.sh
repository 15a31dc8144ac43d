#!/usr/bin/env bash
# Make .venv with the locked packages, and see that the system libraries are there.
# Quick when nothing has changed: the work is done once per lock file.
set -euo pipefail
cd "$(dirname "$0")/.."

# shared library (or command) : Debian package that brings it
needs="
libEGL.so.1:libegl1
libGL.so.1:libgl1
libglib-2.0.so.0:libglib2.0-0
libdbus-1.so.3:libdbus-1-3
libfontconfig.so.1:libfontconfig1
libxkbcommon.so.0:libxkbcommon0
libxkbcommon-x11.so.0:libxkbcommon-x11-0
libxcb-cursor.so.0:libxcb-cursor0
libxcb-icccm.so.4:libxcb-icccm4
libxcb-image.so.0:libxcb-image0
libxcb-keysyms.so.1:libxcb-keysyms1
libxcb-randr.so.0:libxcb-randr0
libxcb-render-util.so.0:libxcb-render-util0
libxcb-shape.so.0:libxcb-shape0
libxcb-xinerama.so.0:libxcb-xinerama0
libxcb-xkb.so.1:libxcb-xkb1
libX11-xcb.so.1:libx11-xcb1
libXtst.so.6:libxtst6
libpulse.so.0:libpulse0
libpulse-mainloop-glib.so.0:libpulse-mainloop-glib0
fonts/DejaVuSans.ttf:fonts-dejavu-core
bin/Xvfb:xvfb
bin/pulseaudio:pulseaudio
bin/parec:pulseaudio-utils
"

libraries="$(PATH="$PATH:/sbin:/usr/sbin" ldconfig -p)"
have() {
    case "$1" in
        bin/*) command -v "${1#bin/}" >/dev/null ;;
        fonts/*) [ -n "$(find /usr/share/fonts -name "${1#fonts/}" 2>/dev/null)" ] ;;
        *) [[ "$libraries" == *"$1 "* ]] ;;
    esac
}

missing=""
for need in $needs; do
    have "${need%%:*}" || missing="$missing ${need##*:}"
done
python3 -c 'import ensurepip' 2>/dev/null || missing="$missing python3-venv"

if [ -n "$missing" ]; then
    as_root=""
    if [ "$(id -u)" != 0 ]; then as_root="sudo"; fi
    install="apt-get update && $as_root apt-get install -y --no-install-recommends$missing"
    [ -n "$as_root" ] && install="$as_root $install"
    if ! command -v apt-get >/dev/null; then
        echo "Chickadee needs these system packages (Debian's names):$missing" >&2
        exit 1
    elif [ -z "$as_root" ] || sudo -n true 2>/dev/null; then
        echo "Installing system packages:$missing"
        DEBIAN_FRONTEND=noninteractive bash -c "$install" >/dev/null
    else
        echo "Chickadee needs some system packages. Please run:  $install" >&2
        exit 1
    fi
fi

stamp=".venv/.locked"
if ! cmp -s <(cat requirements.lock pyproject.toml) "$stamp"; then
    echo "Setting up .venv (a minute or two, once)"
    [ -x .venv/bin/python ] || python3 -m venv .venv
    .venv/bin/python -m pip install --quiet --disable-pip-version-check -r requirements.lock
    .venv/bin/python -m pip install --quiet --disable-pip-version-check --no-deps -e .
    cat requirements.lock pyproject.toml > "$stamp"
fi
.venv/bin/python -m compileall -q src  # so that the first start is as quick as the next
