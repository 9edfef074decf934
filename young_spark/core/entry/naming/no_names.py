"""Words in front of a figure that are the name of no point."""

OF_NO_PLACE = {
    "voltage", "volts", "level", "signal", "reading", "measure", "measures", "measured", "reads", "shows", "is", "are",
    "was", "were", "now", "gets", "got", "sees", "has", "had", "takes", "gives", "gave", "comes", "stands", "sits",
    "holds", "goes", "read", "both", "each", "all", "either",
}  # fmt: skip
NO_NAMES = {
    "now", "still", "then", "only", "just", "reads", "reading", "about", "with", "when", "after", "before", "sags",
    "drops", "rises", "falls", "went", "goes", "the", "and", "but", "for", "slow", "steady", "all", "each", "got",
    "asdf", "test", "tests", "check", "bypass", "design", "trips", "trip", "that", "this", "sits", "stays", "stuck",
    "over", "dips", "settles", "peaks", "jumps", "back", "again", "look", "looks", "once", "sometimes", "often",
    "always", "never", "usually", "under", "above", "below", "blew", "saw", "cut", "broke", "lost", "gone", "first",
    "start", "begin", "beginning", "found", "arrival", "arrived", "received", "initial", "initially", "came",
    "come", "checked", "retest", "recheck", "result", "results", "figures", "today", "yesterday",
}  # fmt: skip
