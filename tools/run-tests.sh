# Sourced by ./test and tools/threads.

# failed_tests <log>: the names, when every one of them failed by an assertion or its time; nothing when one crashed or
# a sanitizer spoke
failed_tests() {
    local summary
    summary=$(sed -n '/The following tests FAILED:/,$s/^[[:space:]]*[0-9]* - //p' "$1")
    if grep -Eq 'Sanitizer|runtime error:' "$1" || grep -Evq ' \((Failed|Timeout)\)$' <<<"$summary"; then
        return 0
    fi
    sed 's/ (.*//' <<<"$summary"
}

# run_tests <preset> <arguments of ctest...>: all of them. Those that hold against a drive in real time (labels link and
# app) are run once more, alone, when the machine was held up in them: a virtual machine that stands still for two
# seconds looks to them like a cable that is out. It is told; what fails twice, crashes, or is reported by a sanitizer fails.
run_tests() {
    local preset=$1 log=build/$1/tests.log failed=() timed=() name
    shift
    if ctest --preset "$preset" "$@" 2>&1 | tee "$log"; then
        return 0
    fi
    mapfile -t failed < <(failed_tests "$log")
    [ ${#failed[@]} -gt 0 ] || return 1
    mapfile -t timed < <(ctest --preset "$preset" -N -L '^(link|app)$' | sed -n 's/^ *Test *#[0-9]*: *//p')
    for name in "${failed[@]}"; do
        [[ " ${timed[*]} " == *" $name "* ]] || return 1
    done
    say "Run once more, alone, for they hold against a drive in real time: ${failed[*]}"
    ctest --preset "$preset" -R "^($(IFS='|'; printf '%s' "${failed[*]}"))\$"
}
