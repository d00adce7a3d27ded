# Sourced by ./run, ./test and .ci/run: installs what packages.txt names and is missing, then builds.
# Nothing is asked of the registry when everything is there.

say() { printf '%s\n' "$*" >&2; }

# missing_packages <names...>: those that dpkg does not call installed, one a line
missing_packages() {
    local have package
    # dpkg-query fails when one name is unknown or not installed and still prints the others: that is an answer, no failure
    have=$(dpkg-query -W -f '${Package} ${db:Status-Status}\n' "$@" 2>/dev/null || true)
    have=$(awk '$2 == "installed" {print $1}' <<<"$have")
    for package in "$@"; do
        grep -qxF -- "$package" <<<"$have" || printf '%s\n' "$package"
    done
}

# ensure_packages [file]: installs the packages named in the file, by default packages.txt
ensure_packages() {
    local list=${1:-packages.txt} wanted=() missing=() as_root=(env)
    if ! command -v dpkg-query >/dev/null 2>&1 || ! command -v apt-get >/dev/null 2>&1; then
        say "Vortex Ridge is built from Debian's packages, and this machine has no dpkg and apt. Use Debian 12."
        exit 1
    fi
    mapfile -t wanted < <(sed -e 's/#.*//' -e 's/[[:space:]]//g' -e '/^$/d' "$list")
    if [ ${#wanted[@]} -eq 0 ]; then
        say "The list of packages, $list, is empty or cannot be read."
        exit 1
    fi
    mapfile -t missing < <(missing_packages "${wanted[@]}")
    [ ${#missing[@]} -eq 0 ] && return 0
    if [ "$(id -u)" -ne 0 ]; then
        if command -v sudo >/dev/null 2>&1 && { sudo -n true 2>/dev/null || [ -t 0 ]; }; then
            as_root=(sudo env)
        else
            say "These Debian packages are missing: ${missing[*]}."
            say "Installing them needs root or sudo, and neither is at hand: ask your administrator for 'apt-get install ${missing[*]}'."
            exit 1
        fi
    fi
    say "Installing from Debian: ${missing[*]}"
    # env behind sudo: sudo itself drops the variable
    local said
    if ! said=$("${as_root[@]}" DEBIAN_FRONTEND=noninteractive apt-get update -qq 2>&1); then
        say "$(tail -n 20 <<<"$said")"
        say "The list of packages could not be fetched; what apt-get said stands above. Is the network there?"
        exit 1
    fi
    if ! said=$("${as_root[@]}" DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends "${missing[@]}" 2>&1); then
        say "$(tail -n 20 <<<"$said")"
        say "The packages could not be installed; what apt-get said stands above."
        exit 1
    fi
    mapfile -t missing < <(missing_packages "${wanted[@]}")
    if [ ${#missing[@]} -gt 0 ]; then
        say "apt-get said that all went well, yet these packages are still missing: ${missing[*]}."
        exit 1
    fi
}

# build <preset> <targets...>: configures when the presets are newer than the folder, then lets ninja decide what is old
build() {
    local preset=$1 log=build/$1.log stamp=build/$1/presets.sha
    shift
    mkdir -p "build/$preset"
    # a changed preset reaches an existing folder too; --fresh would throw the objects' cache entries away with it
    local want
    want=$(sha256sum CMakePresets.json | cut -d' ' -f1)
    if [ ! -f "build/$preset/build.ninja" ] || [ "$(cat "$stamp" 2>/dev/null)" != "$want" ]; then
        rm -f "build/$preset/CMakeCache.txt"
        cmake --preset "$preset" >"$log" 2>&1 || { cat "$log" >&2; exit 1; }
        printf '%s\n' "$want" >"$stamp"
    fi
    # -n tells without doing; only a real build is announced
    if ! ninja -C "build/$preset" -n "$@" 2>/dev/null | grep -q 'no work to do'; then
        say "Building ($preset) ..."
    fi
    ninja -C "build/$preset" "$@" >"$log" 2>&1 || { tail -n 60 "$log" >&2; exit 1; }
}
