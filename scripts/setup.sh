# Sourced by ./start and ./test: brings the machine and this checkout to where both can run.
# Safe to repeat; a stamp beside each result says which lock file or sources it was made from.

say() { printf '%s: %s\n' "$name" "$*"; }
fail() { printf '%s: %s\n' "$name" "$*" >&2; exit 1; }

need_debian() { # package providing-command ...
  local missing=()
  while [ $# -gt 0 ]; do
    PATH="$PATH:/usr/sbin:/sbin" command -v "$2" >/dev/null 2>&1 || missing+=("$1")
    shift 2
  done
  [ ${#missing[@]} -eq 0 ] && return 0
  local as=()
  if [ "$(id -u)" -ne 0 ]; then
    sudo -n true 2>/dev/null || fail "please install first: sudo apt-get install ${missing[*]}"
    as=(sudo)
  fi
  say "installing ${missing[*]}"
  # An installation that was killed is ended first.
  "${as[@]}" dpkg --configure -a >/dev/null 2>&1 || true
  "${as[@]}" apt-get update -qq >/dev/null || fail "apt-get update failed; is this a Debian machine with its package lists reachable?"
  "${as[@]}" env DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" >/dev/null \
    || fail "apt-get could not install ${missing[*]}"
}

wish_debian() { # package providing-command: as above, but what cannot be had is done without
  command -v "$2" >/dev/null 2>&1 && return 0
  (need_debian "$1" "$2") >/dev/null 2>&1 || true
}

need_runtimes() {
  for candidate in python3.11 python3; do
    if "$candidate" -c 'import sys; sys.exit(sys.version_info[:2] != (3, 11))' 2>/dev/null; then python=$candidate; break; fi
  done
  [ -n "${python:-}" ] || fail "Python 3.11 is needed (apt-get install python3.11 python3.11-venv)"
  node -e 'process.exit(process.versions.node.split(".")[0] >= 20 ? 0 : 1)' 2>/dev/null || fail "Node 20 or newer is needed"
}

fresh() { # stamp-file current-sum
  [ -f "$1" ] && [ "$(cat "$1")" = "$2" ]
}

python_sum() { # lock: what the environment would be made from
  cat "$1" pyproject.toml | sha256sum
}

make_python() { # lock; what ./test needs holds all that ./start does
  local lock=$1 all=requirements-dev.lock
  fresh .venv/.made-from "$(python_sum "$lock")" && return 0
  fresh .venv/.made-from "$(python_sum $all)" && return 0
  say "making the Python environment from $lock"
  # One that was killed while it was made has no pip.
  .venv/bin/python -m pip --version >/dev/null 2>&1 || rm -rf .venv
  [ -x .venv/bin/python ] || "$python" -m venv .venv || fail "the venv module is missing (apt-get install python3.11-venv)"
  # The lock names everything, so nothing is left to be resolved.
  .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps --require-hashes -r "$lock" || fail "pip could not install $lock"
  .venv/bin/python -m pip install -q --disable-pip-version-check --no-deps -e . || fail "pip could not install this project"
  .venv/bin/python -m pip check >/dev/null || fail "$lock lacks something: .venv/bin/python -m pip check says what"
  python_sum "$lock" >.venv/.made-from
}

make_node_modules() {
  local sum
  sum=$(sha256sum <frontend/package-lock.json)
  fresh frontend/node_modules/.made-from "$sum" && return 0
  say "installing the front end's packages from package-lock.json"
  (cd frontend && npm ci --no-audit --no-fund --loglevel=error >/dev/null) || fail "npm ci failed"
  printf '%s' "$sum" >frontend/node_modules/.made-from
}

make_frontend() {
  local sum
  sum=$(cd frontend && find src public index.html vite.config.ts tsconfig.json openapi.json package-lock.json -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum)
  fresh frontend/dist/.made-from "$sum" && return 0
  say "building the front end"
  (cd frontend && npx --no-install openapi-typescript openapi.json -o src/api/schema.d.ts >/dev/null 2>&1 \
    && npx --no-install prettier --write --log-level error src/api/schema.d.ts >/dev/null 2>&1 \
    && npx --no-install tsc --noEmit --incremental --tsBuildInfoFile node_modules/.cache/tsc.tsbuildinfo && npx --no-install vite build --logLevel warn) || fail "the front end does not build"
  find frontend/dist -type f \( -name '*.js' -o -name '*.css' -o -name '*.html' -o -name '*.svg' \) -exec gzip -9 -k -f {} +
  # The sum again, as generating the types may have changed one file.
  sum=$(cd frontend && find src public index.html vite.config.ts tsconfig.json openapi.json package-lock.json -type f -print0 | sort -z | xargs -0 sha256sum | sha256sum)
  printf '%s' "$sum" >frontend/dist/.made-from
}

make_everything() { # lock: both halves at once: one waits for the network or a disk while the other works
  make_python "$1" &
  local python_half=$! front_half=0
  (make_node_modules && make_frontend) || front_half=$?
  wait "$python_half" && [ "$front_half" -eq 0 ] || exit 1
}
