# One file that holds everything, and back. Sourced by ./moorcrest.
pg() { # program of the server's, with our address and password
  local bin base=$STATE/database program=$1
  shift
  bin=$(ls -d /usr/lib/postgresql/*/bin | sort -V | tail -1)
  PGPASSWORD=$(cat "$base/password") "$bin/$program" -h 127.0.0.1 -p "$(cat "$base/port")" -U app "$@"
}

with_own_database() { # start it unless it runs already, and leave it as it was
  need_postgres
  local ran=yes
  { [ -s "$STATE/database/port" ] && database_answers; } || ran=no
  [ "$ran" = yes ] || database_start
  trap '[ "'$ran'" = yes ] || database_stop' EXIT
}

backup() { # file; while Moorcrest runs, too
  local file=${1:-}
  [ -n "$file" ] || fail "Name the file to write: ./moorcrest backup /some/folder/moorcrest-$(date +%F).backup"
  choose_state
  with_own_database
  (umask 077 && pg pg_dump -Fc moorcrest >"$file.part") || { rm -f "$file.part"; fail "The backup could not be written; the lines above say why."; }
  mv "$file.part" "$file"
  say "Everything is in $file: $(du -h "$file" | cut -f1)."
}

restore() { # file; what was there stays beside it as the database moorcrest_before
  local file=${1:-}
  [ -r "${file:-/nonexistent}" ] || fail "Name a backup that can be read: ./moorcrest restore FILE"
  claim_state
  with_own_database
  pg pg_restore -l "$file" >/dev/null 2>&1 || fail "$file is not a backup of Moorcrest."
  pg psql -q -d postgres -c 'DROP DATABASE IF EXISTS moorcrest_new' -c 'CREATE DATABASE moorcrest_new' ||
    fail "The database could not be made; the lines above say why."
  pg pg_restore --exit-on-error --no-owner -d moorcrest_new "$file" ||
    fail "The backup could not be read; nothing was changed, and the lines above say why."
  pg psql -q -d postgres -c 'DROP DATABASE IF EXISTS moorcrest_before' -c 'ALTER DATABASE moorcrest RENAME TO moorcrest_before' \
    -c 'ALTER DATABASE moorcrest_new RENAME TO moorcrest' || fail "The restored database could not take its place; the lines above say why."
  say "Everything is as it was in $file. What was there before is kept as the database moorcrest_before."
}
