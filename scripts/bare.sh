# Sourced by what must not depend on the machine it runs on: starts the running script again with next to no environment.

# What is kept: where programs are, whose home it is, the language, and where packages are fetched from, by whose word.
KEPT='PATH|HOME|LANG|PIP_[A-Z_]*|NODE_EXTRA_CA_CERTS|[a-z]+_proxy|[A-Z]+_PROXY'

# kept_environment: those of them that are set, as NAME=VALUE, a line each.
kept_environment() {
    env | grep -E "^($KEPT)=" || true
}

# run_bare ARGUMENTS...: says which variables it drops. Goes on where the environment is bare already.
run_bare() {
    [ "${YARN_PUPPET_BARE:-}" = 1 ] && return
    local kept
    mapfile -t kept < <(kept_environment)
    printf 'in a bare environment, without: %s\n' \
        "$(env | grep -oE '^[A-Za-z_][A-Za-z0-9_]*=' | tr -d '=' | grep -vxE "$KEPT" | sort | tr '\n' ' ')"
    exec env -i "${kept[@]}" YARN_PUPPET_BARE=1 bash "$(readlink -f "$0")" "$@"
}
