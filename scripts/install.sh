#!/usr/bin/env bash
# Installs from Debian what is missing: "server" the PostgreSQL server,
# "compiler" a C compiler, which Go's race detector needs, "browser" Chromium and xmllint for the browser tests. Does nothing when it is there.
set -euo pipefail

install() {
  echo "Installing Debian's package $1 …" >&2
  local as=()
  if [ "$(id -u)" -ne 0 ]; then
    command -v sudo >/dev/null || { echo "Debian's package $1 is missing. Run as root: apt-get install $1" >&2; exit 1; }
    as=(sudo)
  fi
  "${as[@]}" apt-get update -qq
  "${as[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "$1" >/dev/null
}

for tool in go node npm; do
  command -v "$tool" >/dev/null || { echo "$tool is missing; install Go and Node.js first" >&2; exit 1; }
done

case "${1:-}" in
  compiler)
    command -v gcc >/dev/null && exit 0
    install gcc
    install libc6-dev
    ;;
  server)
    compgen -G '/usr/lib/postgresql/*/bin/initdb' >/dev/null && exit 0
    # Debian's package would start a server of its own; ours is enough.
    if [ "$(id -u)" -eq 0 ] && [ ! -e /etc/postgresql-common/createcluster.conf ]; then
      mkdir -p /etc/postgresql-common
      echo 'create_main_cluster = false' >/etc/postgresql-common/createcluster.conf
    fi
    install postgresql
    ;;
  browser)
    command -v chromium >/dev/null || install chromium
    command -v xmllint >/dev/null || install libxml2-utils # checks the sitemap by its schema
    ;;
  *) echo "usage: $0 server|browser" >&2; exit 2 ;;
esac
