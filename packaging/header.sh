#!/usr/bin/env bash
# Runs Lipsanon from a package.
set -eu
self=${BASH_SOURCE[0]}
while [ -L "$self" ]; do
  link=$(readlink "$self")
  case $link in /*) self=$link ;; *) self=$(dirname "$self")/$link ;; esac
done
root=$(cd "$(dirname "$self")/.." && pwd)
app=$root/lib
[ -d "$root/lib/app" ] && app=$root/lib/app
java=java
[ -n "${JAVA_HOME:-}" ] && [ -x "$JAVA_HOME/bin/java" ] && java=$JAVA_HOME/bin/java
for own in "$root/runtime/bin/java" "$root/lib/runtime/bin/java"; do
  [ -x "$own" ] && java=$own
done
command -v "$java" >/dev/null || {
  echo "lipsanon: Java 17 or later is needed: install it, or take the package that brings its own" >&2
  exit 5
}

# an archive of the classes that commands load halves the time that they take to start: made once
# for each place, version and Java, beside the first command that is run
cache=${XDG_CACHE_HOME:-${HOME:-/nonexistent}/.cache}/lipsanon
place=$(printf '%s %s' "$root" "$(stat -L -c '%Y %s' "$(command -v "$java")" "$app"/lipsanon-*.jar 2>/dev/null || true)" | cksum)
archive=$cache/classes-${place%% *}.jsa
if [ ! -e "$archive" ] && mkdir -p "$cache" 2>/dev/null && mkdir "$archive.making" 2>/dev/null; then
  (
    "$java" -Xlog:disable -XX:+UseSerialGC -XX:TieredStopAtLevel=1 \
      -XX:ArchiveClassesAtExit="$archive.making/new" -cp "$app/*" lipsanon.cli.Training &&
      mv "$archive.making/new" "$archive"
    rm -rf "$archive.making"
  ) >/dev/null 2>&1 </dev/null &
fi

