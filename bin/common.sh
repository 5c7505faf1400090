# Shared by the commands in this folder: what is installed, and the private database cluster.
set -euo pipefail
root=$(cd "$(dirname "${BASH_SOURCE[0]}")/.." && pwd)

say() { printf '%s\n' "$*" >&2; }

# Installs Debian packages that are missing, given as command:package.
need() {
  local missing=()
  for pair in "$@"; do
    find_command "${pair%%:*}" >/dev/null || missing+=("${pair##*:}")
  done
  [ ${#missing[@]} -eq 0 ] && return
  local sudo=""
  [ "$(id -u)" -eq 0 ] || sudo=sudo
  say "Installing ${missing[*]} from Debian's packages …"
  $sudo apt-get update -qq >&2
  $sudo env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >&2
}

# A command on the path or among PostgreSQL's own.
find_command() {
  command -v "$1" 2>/dev/null || ls -1 /usr/lib/postgresql/*/bin/"$1" 2>/dev/null | sort -V | tail -n 1 | grep .
}

# PostgreSQL refuses to run as root, so it runs as Debian's postgres user then.
as_database_user() {
  if [ "$(id -u)" -eq 0 ]; then runuser -u postgres -- "$@"; else "$@"; fi
}

# Starts a cluster of our own in a folder, on a free port of loopback, and sets database_server to its address.
start_cluster() {
  local folder=$1
  need initdb:postgresql pg_ctl:postgresql
  local initdb pg_ctl
  initdb=$(find_command initdb)
  pg_ctl=$(find_command pg_ctl)
  mkdir -p "$folder"
  if [ "$(id -u)" -eq 0 ]; then
    # The folder may lie where only root can go; the cluster then lies beside Debian's own.
    if ! runuser -u postgres -- test -x "$folder" 2>/dev/null; then
      folder=/var/lib/postgresql/westerfall-$(printf %s "$folder" | sha256sum | cut -c1-12)
      mkdir -p "$folder"
    fi
    chown postgres: "$folder"
  fi
  cluster=$folder/cluster
  if [ ! -e "$folder/cluster/PG_VERSION" ]; then
    as_database_user "$initdb" -D "$cluster" -U westerfall -A trust -E UTF8 --locale=C.UTF-8 >/dev/null
  fi
  if as_database_user "$pg_ctl" -D "$cluster" status >/dev/null 2>&1; then
    as_database_user "$pg_ctl" -D "$cluster" -m fast -w stop >/dev/null
  fi
  local port
  port=$(python3 -c 'import socket; s = socket.socket(); s.bind(("127.0.0.1", 0)); print(s.getsockname()[1])')
  as_database_user "$pg_ctl" -D "$cluster" -l "$cluster/log" -w -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=200 ${CLUSTER_OPTIONS:-}" start >/dev/null
  database_server="postgres://westerfall@127.0.0.1:$port"
}

stop_cluster() {
  [ -n "${cluster:-}" ] && as_database_user "$(find_command pg_ctl)" -D "$cluster" -m fast -w stop >/dev/null 2>&1 || true
}

# Builds the interface where it is older than its sources.
build_web() {
  cd "$root/web"
  if [ ! -d node_modules ] || [ package-lock.json -nt node_modules/.package-lock.json ]; then
    say "Installing the interface's packages …"
    npm ci --no-audit --no-fund --loglevel=error >&2
  fi
  if [ ! -e dist/index.html ] || [ -n "$(find src index.html form.html public vite.config.ts package.json -newer dist/index.html -print -quit 2>/dev/null)" ]; then
    say "Building the interface …"
    npm run build --silent >&2
  fi
  cd "$root"
}

# Builds the program that sets papers, beside the server's own; with --release, for use.
build_papers() {
  cargo build --quiet --locked --manifest-path "$root/crates/papers/Cargo.toml" --target-dir "${CARGO_TARGET_DIR:-$root/target}" "$@"
}

# Builds the server for use, and says how far it is.
build_server() {
  local packages
  packages=$(cd "$root" && cargo tree --quiet --package westerfall-server --edges normal,build --prefix none --format '{p}' | sed "s, (\*),," | sort -u | wc -l)
  cargo build --release --quiet --manifest-path "$root/Cargo.toml" --package westerfall-server --message-format json-render-diagnostics |
    "$root/bin/progress" "$packages"
}
