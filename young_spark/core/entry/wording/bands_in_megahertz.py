"""A row over amateur bands that are named by their megahertz: '14.2 104 7 105 3.5 103 28 98'."""

import re

LEAST_BANDS = 3  # fewer may be anything in pairs
# what a hand calls a band, from 1.8 to 54 MHz: to a tenth at most, since with more figures it is where it was read
_BANDS = {
    160: r"1\.[89]", 80: r"3\.[5-9]", 60: r"5\.[34]", 40: r"7(?:\.[0-3])?", 30: r"10\.1", 20: r"14(?:\.[0-3])?",
    17: r"18(?:\.1)?", 15: r"21(?:\.[0-4])?", 12: r"24\.9", 10: r"2[89](?:\.\d)?", 6: r"5[0-3](?:\.\d)?",
}  # fmt: skip
_ROW = re.compile(r"(?P<front>(?:(?:pwr|power|out|output|carrier) )?)(?P<row>\d[\d.]*(?: (?:cw|ssb|am|fm))?[ ,:].*)")
_PAIR = re.compile(r"(?P<band>\d[\d.]*)(?P<mode>(?: (?:cw|ssb|am|fm))?)[ :=]+(?P<read>\d[\d.]*(?: ?m?w)?)(?:,? |,?$)")


def bands_named(plain: str) -> str:
    """The row with each band in metres, where one of them is a whole number; any other text as it was. Whole numbers
    alone make no row: one of the bands is told with its tenth."""
    told = _ROW.fullmatch(plain)
    pairs = [] if told is None else _pairs(told["row"])
    bands = [_metres(pair["band"]) for pair in pairs]
    known = [band for band in bands if band is not None]
    if told is None or len(known) < max(LEAST_BANDS, len(bands)) or len(set(known)) < len(known):
        return plain
    if len({"." in pair["band"] for pair in pairs}) == 1 or all(_metres(pair["read"]) for pair in pairs):
        return plain
    row = (f"{band}m{pair['mode']} {pair['read']}" for band, pair in zip(known, pairs, strict=True))
    return told["front"] + ", ".join(row)


_SWEEP = re.compile(
    r"(?P<name>(?:swr:? )?)(?P<pairs>(?:\d{1,3}\.\d{1,3}(?: ?mhz)?[ :=]+[1-9]\d?\.\d{1,2}(?:, ?| |$)){2,})"
)
_POINT = re.compile(r"(\d{1,3}\.\d{1,3})(?: ?mhz)?[ :=]+(\d{1,2}\.\d{1,2})")
WIDEST = 1.12  # of a band of one aerial, its upper end to its lower
LEAST_MHZ = 1.7


def swept_over_a_band(plain: str) -> str:
    """'7.0 1.5 7.1 1.35 7.2 1.6' as an SWR at each frequency: what rises within one band are megahertz."""
    told = _SWEEP.fullmatch(plain)
    points = [] if told is None else _POINT.findall(told["pairs"])
    at = [float(mhz) for mhz, _ in points]
    rises = len(at) > 1 and at == sorted(set(at)) and at[0] > LEAST_MHZ and at[-1] < WIDEST * at[0]
    if told is None or not rises or (len(points) < LEAST_BANDS and not told["name"]):
        return plain
    return "swr " + " ".join(f"{mhz}mhz {ratio}" for mhz, ratio in points)


def _metres(megahertz: str) -> int | None:
    return next((band for band, name in _BANDS.items() if re.fullmatch(name, megahertz)), None)


def _pairs(row: str) -> list[re.Match[str]]:
    """The pairs of a row that is pairs throughout, else none."""
    pairs, at = [], 0
    while at < len(row) and (pair := _PAIR.match(row, at)) is not None:
        pairs.append(pair)
        at = pair.end()
    return pairs if at == len(row) else []
