#!/usr/bin/env bash
# Put Chickadee where the desktop finds it: the command, the menu entry, the icon, the file type.
# PREFIX chooses where; the user's own ~/.local by default. "install.sh remove" takes it all away again.
set -euo pipefail
cd "$(dirname "$0")/.."
prefix="${PREFIX:-$HOME/.local}"
share="$prefix/share"
files="
$prefix/bin/chickadee
$share/applications/org.lake_orrin.Chickadee.desktop
$share/mime/packages/chickadee.xml
$share/metainfo/org.lake_orrin.Chickadee.metainfo.xml
$share/icons/hicolor/scalable/apps/chickadee.svg
"

if [ "${1:-}" = remove ]; then
    for file in $files; do rm -f "$file"; done
    rm -rf "$prefix/lib/chickadee"
else
    python3 -m venv "$prefix/lib/chickadee"
    "$prefix/lib/chickadee/bin/python" -m pip install --quiet --disable-pip-version-check -c requirements.lock .
    mkdir -p "$prefix/bin"
    ln -sf "$prefix/lib/chickadee/bin/chickadee" "$prefix/bin/chickadee"
    install -Dm644 packaging/org.lake_orrin.Chickadee.desktop "$share/applications/org.lake_orrin.Chickadee.desktop"
    install -Dm644 packaging/chickadee-mime.xml "$share/mime/packages/chickadee.xml"
    install -Dm644 packaging/org.lake_orrin.Chickadee.metainfo.xml "$share/metainfo/org.lake_orrin.Chickadee.metainfo.xml"
    install -Dm644 packaging/chickadee.svg "$share/icons/hicolor/scalable/apps/chickadee.svg"
fi
for refresh in "update-mime-database $share/mime" "update-desktop-database $share/applications"; do
    if command -v "${refresh%% *}" >/dev/null; then $refresh 2>/dev/null || true; fi
done
