# Sourced by ./run and ./test: installs what packages.txt names and is missing, then builds.
# Nothing is asked of the registry when everything is there.

say() { printf '%s\n' "$*" >&2; }

ensure_packages() {
    local wanted missing=()
    wanted=$(sed -e 's/#.*//' -e '/^[[:space:]]*$/d' packages.txt)
    if ! command -v dpkg-query >/dev/null 2>&1; then
        say "Vortex Ridge is built from Debian's packages, and this machine has no dpkg. Use Debian 12."
        exit 1
    fi
    # one call for all: a package that is unknown or not installed does not appear as "installed"
    local have
    have=$(dpkg-query -W -f '${Package} ${db:Status-Status}\n' $wanted 2>/dev/null | awk '$2 == "installed" {print $1}' | sort -u)
    local package
    for package in $wanted; do
        grep -qx -- "$package" <<<"$have" || missing+=("$package")
    done
    [ ${#missing[@]} -eq 0 ] && return 0
    local as_root=()
    if [ "$(id -u)" -ne 0 ]; then
        if command -v sudo >/dev/null 2>&1 && { sudo -n true 2>/dev/null || [ -t 0 ]; }; then
            as_root=(sudo)
        else
            say "These Debian packages are missing: ${missing[*]}."
            say "Installing them needs root or sudo, and neither is at hand: ask your administrator for 'apt-get install ${missing[*]}'."
            exit 1
        fi
    fi
    say "Installing from Debian: ${missing[*]}"
    if ! { "${as_root[@]}" apt-get update -qq && DEBIAN_FRONTEND=noninteractive "${as_root[@]}" apt-get install -y -qq --no-install-recommends "${missing[@]}"; } >&2; then
        say "The packages could not be installed; what apt-get said stands above."
        exit 1
    fi
}

# build <preset> <targets...>: configures once, then lets ninja decide what is old
build() {
    local preset=$1 log=build/$1.log
    shift
    mkdir -p build
    if [ ! -f "build/$preset/build.ninja" ]; then
        cmake --preset "$preset" >"$log" 2>&1 || { cat "$log" >&2; exit 1; }
    fi
    # -n tells without doing; only a real build is announced
    if ! ninja -C "build/$preset" -n "$@" 2>/dev/null | grep -q 'no work to do'; then
        say "Building ($preset) ..."
    fi
    ninja -C "build/$preset" "$@" >"$log" 2>&1 || { tail -n 60 "$log" >&2; exit 1; }
}
