# Sourced by the commands in this folder: what the machine and the checkout must have before they run.
# Expects $root, the checkout. Each step says what it does and does nothing when it is done already.

local_folder="$root/.local"

say() { printf '%s\n' "$*"; }
die() { printf '%s\n' "$*" >&2; exit 1; }

# need_debian COMMAND-OR-TEST PACKAGE...: installs the packages unless the test holds.
need_debian() {
  local test="$1"; shift
  if eval "$test" >/dev/null 2>&1; then return; fi
  command -v apt-get >/dev/null 2>&1 || die "Missing: $*. Install it with your system's package manager and start again."
  local apt=(apt-get)
  if [ "$(id -u)" -ne 0 ]; then
    sudo -n true >/dev/null 2>&1 || die "Missing: $*. Run: sudo apt-get install $*"
    apt=(sudo -n apt-get)
  fi
  say "packages   installing $* with apt"
  local log="$local_folder/apt.log"
  if ! { "${apt[@]}" -o DPkg::Lock::Timeout=300 update && DEBIAN_FRONTEND=noninteractive "${apt[@]}" -o DPkg::Lock::Timeout=300 install -y --no-install-recommends "$@"; } >"$log" 2>&1; then
    tail -n 5 "$log" >&2
    die "apt could not install $*; the whole output is in $log."
  fi
  eval "$test" >/dev/null 2>&1 || die "$* is installed, but still missing: $test"
}

prepare_node() {
  mkdir -p "$local_folder" || die "$local_folder cannot be written by $(id -un)."
  need_debian 'command -v node && command -v npm' nodejs npm
  node -e 'const [major, minor] = process.versions.node.split("."); process.exit(major * 100 + +minor >= 2015 ? 0 : 1)' ||
    die "Node.js $(node --version) is too old; 20.15 or newer is needed. Debian 13 has it, or take it from nodejs.org."
}

prepare_machine() {
  prepare_node
  need_debian 'command -v git' git
  need_debian 'ls /usr/lib/postgresql/*/bin/initdb || command -v initdb' postgresql
}

# prepare_checkout STEP...: two at once would take each other's packages and build away, so the second waits.
prepare_checkout() {
  exec 8>"$local_folder/prepare.lock"
  flock -n 8 || { say 'waiting    until another command has prepared this checkout'; flock 8; }
  local step
  for step in "$@"; do "$step"; done
  exec 8>&-
}

# npm packages exactly as the lockfile has them. What it unpacks npm needs for a moment: with more room for what is new,
# less time goes into clearing it away.
npm_ci() {
  (cd "$root" && NODE_OPTIONS="${NODE_OPTIONS:-} --max-semi-space-size=64" npm ci --loglevel=error "$@") \
    >"$local_folder/npm.log" 2>&1
}

prepare_packages() {
  local stamp="$local_folder/npm.stamp" wanted
  wanted="$(node --version) $(sha256sum <"$root/package-lock.json")"
  if [ -d "$root/node_modules" ] && [ "$(cat "$stamp" 2>/dev/null)" = "$wanted" ]; then return; fi
  say 'packages   npm ci'
  # The lockfile has each version with its sum: what npm has kept of the registry will do, unless it is older than a version.
  npm_ci --prefer-offline || { grep -q ETARGET "$local_folder/npm.log" && npm_ci; } || {
    tail -n 20 "$local_folder/npm.log" >&2
    die "npm ci failed; the whole output is in $local_folder/npm.log."
  }
  printf '%s' "$wanted" >"$stamp"
}

# The programs without the web application.
prepare_types() {
  say 'build      types'
  (cd "$root" && npm run --silent build:types) >"$local_folder/build.log" 2>&1 || {
    tail -n 30 "$local_folder/build.log" >&2
    die "The build failed; the whole output is in $local_folder/build.log."
  }
}

prepare_build() {
  local stamp="$local_folder/build.stamp"
  if [ -f "$stamp" ] && [ -d "$root/packages/web/dist" ] && [ -z "$(find "$root"/package-lock.json "$root"/tsconfig*.json "$root"/packages/*/src "$root"/packages/*/package.json "$root"/packages/web/index.html "$root"/packages/web/vite.config.ts "$root"/packages/cli/rolldown.config.js "$root"/demo/src "$root"/bench/src "$local_folder/npm.stamp" -newer "$stamp" -print -quit 2>/dev/null)" ]; then return; fi
  say 'build      types and web application'
  local started="$stamp.started"
  touch "$started"
  (cd "$root" && npm run --silent build) >"$local_folder/build.log" 2>&1 || {
    tail -n 30 "$local_folder/build.log" >&2
    die "The build failed; the whole output is in $local_folder/build.log."
  }
  mv "$started" "$stamp"
}
