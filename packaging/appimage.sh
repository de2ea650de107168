#!/usr/bin/env bash
# Lays out an AppDir from the one-folder bundle and packs it where `appimagetool` is installed. Not built here.
set -euo pipefail
cd "$(dirname "$0")/.."
name=org.cordwainer.Cordwainer
app=build/$name.AppDir
[ -x build/bundle/cordwainer/cordwainer ] || scripts/package bundle
rm -rf "$app"
mkdir -p "$app/usr/lib" "$app/usr/share/applications" "$app/usr/share/metainfo"
cp -r build/bundle/cordwainer "$app/usr/lib/cordwainer"
cp packaging/$name.desktop "$app/usr/share/applications/"
cp packaging/$name.desktop "$app/"
cp packaging/$name.svg "$app/"
cp packaging/$name.metainfo.xml "$app/usr/share/metainfo/$name.appdata.xml"
printf '#!/bin/sh\nexec "$(dirname "$(readlink -f "$0")")/usr/lib/cordwainer/cordwainer" "$@"\n' >"$app/AppRun"
chmod +x "$app/AppRun"
if command -v appimagetool >/dev/null 2>&1; then
  appimagetool "$app" "dist/Cordwainer-$(uname -m).AppImage"
else
  echo "The folder is $app; appimagetool makes one file of it."
fi
