# All checks and tests, with all the set-up they need. Sourced by ./moorcrest.
run_tests() { # nothing for all, or names of stages
  local stages=("$@")
  [ ${#stages[@]} -gt 0 ] || stages=(lint core server web browser)
  STATE=${MOORCREST_STATE:-$PWD/.state}/test
  choose_state
  need_disk
  need_python dev
  need_compiled
  local stage
  for stage in "${stages[@]}"; do
    say "== $stage"
    "test_$stage"
  done
  say "All of ${stages[*]} passed."
}

test_lint() {
  .venv/bin/ruff check .
  .venv/bin/ruff format --check .
  MOORCREST_SECRET=lint .venv/bin/mypy
  .venv/bin/lint-imports --no-cache
}

test_core() {
  need_packages occt-misc
  .venv/bin/pytest tests/core -n 2 -q
}

with_database() {
  need_postgres
  database_start
  trap database_stop EXIT
  export DJANGO_SETTINGS_MODULE=server.settings.test
}

test_server() {
  need_packages occt-misc
  with_database
  .venv/bin/pytest tests/server -q
  MOORCREST_SECRET=$(secret) DJANGO_SETTINGS_MODULE=server.settings.production .venv/bin/python manage.py check --deploy --fail-level WARNING
  MOORCREST_SECRET=lint .venv/bin/python manage.py makemigrations --check --dry-run
}

test_web() {
  need_node_modules
  (cd web && npm run --silent types:check && npm run --silent lint && npm run --silent check && npm run --silent test)
}

test_browser() {
  need_packages chromium occt-misc
  need_front_end
  with_database
  .venv/bin/pytest tests/browser -q
}

run_in_browser() { # a module that needs all that the browser tests need
  STATE=${MOORCREST_STATE:-$PWD/.state}/test
  choose_state
  need_python dev
  need_compiled
  need_packages chromium occt-misc
  need_front_end
  with_database
  local module=$1
  shift
  .venv/bin/python -m "$module" "$@"
}
