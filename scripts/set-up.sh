# Sourced by the commands at the top of the tree: makes .venv and finds Qt's system libraries.
# A stamp of the lock files makes the second call cost one comparison.

PACKAGES="libgl1 libegl1 libdbus-1-3 libfontconfig1 libglib2.0-0 libxkbcommon0 libxkbcommon-x11-0 libxcb-cursor0
 libxcb-icccm4 libxcb-image0 libxcb-keysyms1 libxcb-randr0 libxcb-render-util0 libxcb-shape0 libxcb-xinerama0
 libxcb-xkb1 libxcb-xfixes0 libpulse0"

# Only tests ask for these: another program that reads and mixes pictures, and what runs the code that games get.
TEST_PACKAGES="chromium clang g++ gcc libc6-dev nodejs"

say() { printf 'yarn-puppet: %s\n' "$*" >&2; }

find_python() {
    for candidate in python3.11 python3 python3.12 python3.13; do
        if command -v "$candidate" >/dev/null && "$candidate" -c \
            'import sys; sys.exit(sys.version_info < (3, 11))' 2>/dev/null; then
            echo "$candidate"
            return
        fi
    done
    say "Python 3.11 or later is needed, and none was found on the PATH"
    return 1
}

install_system_packages() {
    # shellcheck disable=SC2086
    if [ "$(id -u)" = 0 ] && command -v apt-get >/dev/null; then
        say "installing system packages: $*"
        apt-get update -qq >&2 && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq --no-install-recommends $* >&2
    else
        say "system packages are missing; install them with: sudo apt-get install -y $*"
        return 1
    fi
}

missing_libraries() {
    # Qt names what it cannot load only when a window is about to open; the linker can say so now.
    local platforms
    platforms=$(echo "$1"/.venv/lib/python3*/site-packages/PyQt6/Qt6/plugins/platforms)
    { ldd "$platforms/libqxcb.so" "$platforms/libqoffscreen.so"; } 2>/dev/null | grep -q 'not found'
}

missing_sound() {
    ldd "$1"/.venv/lib/python3*/site-packages/PyQt6/Qt6/lib/libQt6Multimedia.so.6 2>/dev/null | grep -q 'not found'
}

has_one_of() {
    local candidate
    for candidate in "$@"; do
        command -v "$candidate" >/dev/null && return
    done
    return 1
}

set_up_for_tests() {
    has_one_of chromium chromium-browser google-chrome && has_one_of clang && has_one_of g++ && has_one_of gcc \
        && has_one_of node && return
    install_system_packages $TEST_PACKAGES || say "until then the tests that ask for them are left out"
}

# Khronos' validator of glTF files: one npm package, without dependencies. Only tests ask for it.
GLTF_VALIDATOR="gltf-validator@2.0.0-dev.3.10"

set_up_validator() {
    [ -d "$1/.venv/node/node_modules/gltf-validator" ] && return
    has_one_of npm || return 0
    say "installing $GLTF_VALIDATOR"
    # Once: where it is not to be had, tests must not wait minutes for it.
    npm install --silent --fetch-retries=0 --fetch-timeout=20000 --no-audit --no-fund --no-save --prefix "$1/.venv/node" "$GLTF_VALIDATOR" >&2 \
        || say "until then the tests that ask for it are left out"
}

# Qt finds its own plugins by the locale: in one that is not UTF-8, not below a folder with an accent in its name.
speak_utf8() {
    [ "$(locale charmap 2>/dev/null)" = UTF-8 ] || export LC_ALL=C.UTF-8
}

# set_up ROOT LOCK...: leaves $PYTHON set to the environment's interpreter.
set_up() {
    local root=$1 stamp lock base
    shift
    speak_utf8
    PYTHON="$root/.venv/bin/python"
    for lock in "$@"; do
        stamp="$root/.venv/$lock.installed"
        cmp -s "$root/$lock" "$stamp" && continue
        if [ ! -x "$PYTHON" ]; then
            base=$(find_python) || return 1
            if ! "$base" -c 'import ensurepip, venv' 2>/dev/null; then
                install_system_packages python3-venv || return 1
            fi
            say "making the environment in .venv"
            "$base" -m venv "$root/.venv" || return 1
        fi
        say "installing the packages of $lock"
        "$PYTHON" -m pip install --quiet --disable-pip-version-check -r "$root/$lock" >&2 || return 1
        if missing_libraries "$root"; then
            install_system_packages $PACKAGES || return 1
        elif missing_sound "$root"; then
            # The desk works without it, and says nothing aloud.
            install_system_packages libpulse0 || say "until then sounds are shown and not heard"
        fi
        cp "$root/$lock" "$stamp"
    done
}
