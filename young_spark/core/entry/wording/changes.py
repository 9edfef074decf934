"""Words by which hands say that a figure went somewhere: down, up, or from one to another."""

FALLS_NOW = ("falls", "drops", "dips")  # while it is looked at: the pair of figures tells it without the word
FALLS = (*FALLS_NOW, "fell", "falling", "dropped", "dropping", "dipped", "sags", "sagged", "sagging")
RISES = ("rises", "rose", "climbs", "climbed")
ARROWS = ("->", "→")
FALLS_TO = tuple(f"{verb} to" for verb in FALLS)
