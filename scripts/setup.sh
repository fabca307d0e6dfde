# What a fresh machine needs: Debian packages, the Python environment, the built front end. Sourced by ./moorcrest.
STATE=${MOORCREST_STATE:-$PWD/.state}
WEB_PORT=${MOORCREST_PORT:-8400}

say() { printf '%s\n' "$*"; }
fail() { printf 'moorcrest: %s\n' "$*" >&2; exit 1; }

# The database server runs as another user when we are root, so it must be able to pass through to the folder.
choose_state() {
  if [ "$(id -u)" = 0 ] && [ -z "${MOORCREST_STATE:-}" ] && id postgres >/dev/null 2>&1 && ! runuser -u postgres -- test -x "$PWD"; then
    STATE=/var/tmp/moorcrest-$(printf %s "$PWD" | cksum | cut -d' ' -f1)
  fi
  mkdir -p "$STATE/run" 2>/dev/null || fail "The folder $STATE cannot be made; name another one with MOORCREST_STATE=/some/folder."
  chmod 711 "$STATE"
}

# Whether a process id still names one of our own processes and not another program that got the number since.
is_ours() { grep -qsE 'gunicorn|manage\.py|moorcrest' "/proc/$1/cmdline"; }

end_group() { # pid of a group's first process: whatever is left of the group
  local entry pid
  for entry in /proc/[0-9]*/stat; do
    pid=${entry#/proc/}; pid=${pid%/stat}
    if [ "$(awk '{sub(/.*\) /, ""); print $3}' "$entry" 2>/dev/null)" = "$1" ] && is_ours "$pid"; then kill -KILL "$pid" 2>/dev/null || true; fi
  done
}

claim_state() {
  choose_state
  exec 9>"$STATE/run/lock"
  flock -n 9 || fail "Moorcrest already runs from this folder. ./moorcrest stop ends it."
  local file
  for file in "$STATE"/run/web.pid "$STATE"/run/worker.pid; do # left by a hard kill
    [ -e "$file" ] || continue
    end_group "$(cat "$file")"
    rm -f "$file"
  done
}

need_disk() {
  local free
  free=$(df -Pm "$STATE" | awk 'NR==2 {print $4}')
  [ "$free" -ge 600 ] || fail "Only $free MB are free on the disk of $STATE; Moorcrest needs 600. Free some, or set MOORCREST_STATE to a folder on another disk."
}

as_root() {
  if [ "$(id -u)" = 0 ]; then "$@"; elif command -v sudo >/dev/null; then sudo "$@"; else return 1; fi
}

need_packages() {
  local missing=() p
  for p in "$@"; do dpkg -s "$p" >/dev/null 2>&1 || missing+=("$p"); done
  [ ${#missing[@]} = 0 ] && return
  say "Installing ${missing[*]} …"
  { as_root apt-get update -q && as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends "${missing[@]}"; } \
    >"/tmp/moorcrest-apt-$(id -u).log" 2>&1 ||
    fail "The Debian packages ${missing[*]} are missing and could not be installed; install them as root: apt-get install ${missing[*]}"
}

need_postgres() {
  ls /usr/lib/postgresql/*/bin/initdb >/dev/null 2>&1 && return
  if [ ! -e /etc/postgresql-common/createcluster.conf ]; then # no cluster of the system's own
    as_root mkdir -p /etc/postgresql-common && echo "create_main_cluster = false" | as_root tee /etc/postgresql-common/createcluster.conf >/dev/null || true
  fi
  need_packages postgresql
  choose_state
}

stamp_is() { [ -e "$1" ] && [ "$(cat "$1")" = "$2" ]; }

need_python() { # runtime | dev
  python3 -c 'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null || fail "Python 3.11 or newer is needed: apt-get install python3."
  local files=(requirements/runtime.txt) sum
  [ "$1" = dev ] && files+=(requirements/dev.txt)
  if [ ! -x .venv/bin/python ]; then
    python3 -c 'import ensurepip' 2>/dev/null || need_packages python3-venv
    python3 -m venv .venv
  fi
  sum=$(cat "${files[@]}" | sha256sum | cut -d' ' -f1)
  stamp_is .venv/stamp-"$1" "$sum" && return
  say "Installing Python packages …"
  local args=() f
  for f in "${files[@]}"; do args+=(-r "$f"); done
  .venv/bin/python -m pip install --quiet --disable-pip-version-check --require-hashes "${args[@]}" ||
    fail "The Python packages could not be installed; the lines above say why."
  printf %s "$sum" >.venv/stamp-"$1"
}

need_compiled() { # loops in machine code, kept beside their modules; a first view would wait for them otherwise
  local sum
  sum=$(cat requirements/runtime.txt $(grep -rl --include='*.py' '^@compiled' drafting | sort) | sha256sum | cut -d' ' -f1)
  stamp_is .venv/stamp-compiled "$sum" && return
  say "Compiling the geometry …"
  .venv/bin/python -c 'import drafting.views.derive' || fail "The geometry could not be compiled; the lines above say why."
  printf %s "$sum" >.venv/stamp-compiled
}

need_node_modules() {
  command -v npm >/dev/null || fail "Node 20 with npm is needed to build the interface."
  local sum
  sum=$(cat web/package.json web/package-lock.json | sha256sum | cut -d' ' -f1)
  stamp_is web/node_modules/.stamp "$sum" && return
  say "Installing npm packages …"
  (cd web && npm ci --no-audit --no-fund --loglevel=error) || fail "The npm packages could not be installed; the lines above say why."
  printf %s "$sum" >web/node_modules/.stamp
}

need_front_end() {
  local sum
  sum=$(find web/src web/public web/index.html web/*.json web/*.ts drafting/ink/fonts -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum | cut -d' ' -f1)
  stamp_is web/dist/.stamp "$sum" && return
  need_node_modules
  say "Building the interface …"
  (cd web && npm run --silent build) || fail "The interface could not be built; the lines above say why."
  printf %s "$sum" >web/dist/.stamp
}

port_taken() { (exec 3<>"/dev/tcp/127.0.0.1/$1") 2>/dev/null; }

pick_web_port() {
  if port_taken "$WEB_PORT"; then
    fail "Port $WEB_PORT is in use by another program. Choose another: MOORCREST_PORT=$((WEB_PORT + 1)) ./moorcrest start"
  fi
}

wait_for_web() { # pid
  local i
  for i in $(seq 200); do
    kill -0 "$1" 2>/dev/null || fail "The web process ended at once; the lines above say why."
    port_taken "$WEB_PORT" && return
    sleep 0.05
  done
  fail "The web process does not answer on port $WEB_PORT."
}

secret() {
  [ -s "$STATE/secret" ] || (umask 077 && python3 -c 'import secrets; print(secrets.token_urlsafe(60))' >"$STATE/secret")
  cat "$STATE/secret"
}
