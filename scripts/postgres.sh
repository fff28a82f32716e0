#!/usr/bin/env bash
# A private PostgreSQL cluster on loopback, owned by an unprivileged user, for `npm start` and the tests.
#   postgres.sh ensure DIR PORT [fast]   make sure it runs; prints the connection URL. `fast` turns fsync off and keeps
#                                        the cluster in memory where there is plenty of it (tests only).
#   postgres.sh stop DIR                 stops it; one in memory is gone then
set -euo pipefail

fail() { echo "$1" >&2; exit 1; }

find_binaries() {
  BIN=$(ls -d /usr/lib/postgresql/*/bin 2>/dev/null | sort -V | tail -n 1 || true)
  [ -n "$BIN" ] && [ -x "$BIN/initdb" ]
}

install_postgres() {
  [ "$(id -u)" = 0 ] || fail "PostgreSQL is not installed. Install Debian's package 'postgresql' (apt-get install postgresql), or set DATABASE_URL."
  command -v apt-get >/dev/null || fail "PostgreSQL is not installed and apt-get is not here. Install PostgreSQL, or set DATABASE_URL."
  mkdir -p /etc/postgresql-common/createcluster.d
  echo 'create_main_cluster = false' >/etc/postgresql-common/createcluster.d/private.conf
  echo "Installing PostgreSQL from Debian's packages ..." >&2
  { apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends postgresql; } >/dev/null 2>&1 \
    || fail "Installing PostgreSQL failed. Run 'apt-get install postgresql' and see why, or set DATABASE_URL."
}

# initdb refuses root: as root everything runs as the package's own user.
as_owner() {
  if [ "$(id -u)" = 0 ]; then setpriv --reuid=postgres --regid=postgres --init-groups "$@"; else "$@"; fi
}

# A stale pid file or somebody else's server must not fool us: the process must be a postgres of this folder.
running() {
  local pid
  pid=$(head -n 1 "$DATA/postmaster.pid" 2>/dev/null) || return 1
  [ -n "$pid" ] && tr '\0' ' ' <"/proc/$pid/cmdline" 2>/dev/null | grep -qF -- "$DATA"
}

# Tests make and drop a thousand databases of a thousand files each. A file system that is slow to use again what was
# deleted a moment ago (ext4) takes a second for each of them; memory takes a tenth.
NEEDED_KB=$((6 * 1024 * 1024))
plenty_of_memory() {
  [ "$(df -k --output=avail /dev/shm 2>/dev/null | tail -n 1)" -ge $NEEDED_KB ] \
    && [ "$(awk '/^MemAvailable/ { print $2 }' /proc/meminfo)" -ge $((2 * NEEDED_KB)) ]
}
in_memory() {
  [ ! -f "$DATA/PG_VERSION" ] && plenty_of_memory || return 0
  # A folder of that name that is not ours is somebody else's business.
  mkdir -m 700 "$MEMORY" 2>/dev/null || return 0
  [ "$(id -u)" != 0 ] || chown postgres "$MEMORY"
  DATA="$MEMORY"
}

ensure() {
  find_binaries || { install_postgres; find_binaries || fail "PostgreSQL's programs were not found after installing it."; }
  mkdir -p "$DIR"
  [ "$(id -u)" != 0 ] || chown postgres "$DIR"
  [ -f "$DIR/password" ] || { umask 077; head -c 24 /dev/urandom | base64 | tr -d '/+=\n' >"$DIR/password"; [ "$(id -u)" != 0 ] || chown postgres "$DIR/password"; }
  [ "$MODE" != fast ] || in_memory
  # Collation C: the order of C.UTF-8, but compared byte by byte, which makes every index and sort of text cheaper.
  [ -f "$DATA/PG_VERSION" ] || as_owner "$BIN/initdb" -D "$DATA" -U wren --pwfile="$DIR/password" -A scram-sha-256 -E UTF8 --locale=C.UTF-8 --lc-collate=C >"$DIR/initdb.log" 2>&1 \
    || fail "The database cluster could not be made in $DATA: $(why "$DIR/initdb.log")"
  if ! running; then
    rm -f "$DATA/postmaster.pid"
    # The port may be taken by somebody else: try the next ones.
    local port
    for port in $(seq "$PORT" $((PORT + 20))); do
      (exec 3<>"/dev/tcp/127.0.0.1/$port") 2>/dev/null && continue
      local extra="-c fsync=on"
      [ "$MODE" = fast ] && extra="-c fsync=off -c synchronous_commit=off -c full_page_writes=off"
      if as_owner "$BIN/pg_ctl" -D "$DATA" -w -t 60 -l "$DIR/server.log" \
        -o "-p $port -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c max_connections=120 -c shared_buffers=256MB -c max_wal_size=2GB $extra" \
        start >/dev/null 2>&1 9>&-; then
        echo "$port" >"$DIR/port"; break
      fi
    done
    running || fail "The database did not start: $(why "$DIR/server.log")"
  fi
  echo "postgresql://wren:$(cat "$DIR/password")@127.0.0.1:$(cat "$DIR/port")/postgres"
}

# The line of a log that says what went wrong; the last ones only tell what is taken away again.
why() {
  local last
  last=$(tail -n 20 "$1" 2>/dev/null || true)
  grep -iE "error|fatal|panic|could not" <<<"$last" | tail -n 1 | grep . || tail -n 1 <<<"$last"
}

# With its folder as it stands from the root: what is above it is walked up to there.
ACTION=${1:?} DIR=$(realpath -ms -- "${2:?}") PORT=${3:-5440} MODE=${4:-safe}

# As root the cluster runs as another user, who must be able to enter every folder above it. A checkout in a
# closed folder (/root, mktemp -d) keeps its cluster under /var/lib instead.
reachable() {
  local parent="$DIR"
  while parent=$(dirname "$parent"); [ "$parent" != / ]; do
    [ ! -d "$parent" ] || [ $((0$(stat -c %a "$parent") & 1)) = 1 ] || return 1
  done
}
if [ "$(id -u)" = 0 ] && ! reachable; then DIR="/var/lib/steady-wren/$(printf %s "$DIR" | md5sum | cut -c 1-12)"; fi
DATA="$DIR/cluster"
MEMORY="/dev/shm/steady-wren-$(printf %s "$DIR" | md5sum | cut -c 1-12)"
if [ -O "$MEMORY" ] || [ "$(stat -c %U "$MEMORY" 2>/dev/null)" = postgres ]; then DATA="$MEMORY"; fi
case "$ACTION" in
  ensure)
    mkdir -p "$DIR"
    exec 9>"$DIR/lock"
    flock 9
    ensure
    ;;
  stop)
    find_binaries || exit 0
    running && as_owner "$BIN/pg_ctl" -D "$DATA" -m fast -w stop >/dev/null 2>&1 || true
    [ "$DATA" != "$MEMORY" ] || rm -rf "$MEMORY"
    ;;
  *) fail "usage: postgres.sh ensure|stop DIR [PORT] [fast]" ;;
esac
