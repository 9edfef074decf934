"""What the shop has to measure with, and to judge by."""

from django.utils import timezone

from young_spark.core.entry import OwnWords
from young_spark.core.figure import Instrument
from young_spark.core.gear import Model
from young_spark.core.ground import parse
from young_spark.core.judging import TYPICAL, ChannelPlan, Profile, channel_plans, profiles
from young_spark.core.live import Definition, definition, definitions
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.library.models import OwnText, ShopInstrument
from young_spark.server.library.own_texts import OwnTexts
from young_spark.server.problems import Refused
from young_spark.server.writing import writing


def shop_instruments() -> dict[str, Instrument]:
    """The shop's instruments by id, as the core knows them."""
    today = timezone.now().date()
    rows = ShopInstrument.objects.order_by("name").prefetch_related("checks")
    return {row.id: row.as_instrument(today) for row in rows}


def profiles_of(model: Model | None) -> dict[str, Profile]:
    """The limit profiles a model is judged by; none without a model. A copy of this shop stands in its original's
    place."""
    names = model.profiles if model else ()
    known = profiles() | (own_profiles() if names else {})
    chosen = {name: known[name] for name in names if name in known}
    return chosen | {TYPICAL: model.typical} if model is not None and model.typical is not None else chosen


OWN_PLANS = OwnTexts(OwnText.Kind.CHANNELS, lambda text, name: parse(text, f"{name}.toml", ChannelPlan))


def known_plans() -> dict[str, ChannelPlan]:
    """Every channel plan by id: the shop's own ones and its copies in the place of those that ship."""
    standing = OWN_PLANS.standing()
    own = {name: OWN_PLANS.value(row) for name, row in standing.items() if not OWN_PLANS.why_not(row)}
    return channel_plans() | own


OWN_DEFINITIONS = OwnTexts(OwnText.Kind.DEFINITIONS, definition)


def known_definitions() -> dict[str, Definition]:
    """Every definition file by id: the shop's own ones, and its copies in the place of those that ship."""
    standing = OWN_DEFINITIONS.standing()
    own = {name: OWN_DEFINITIONS.value(row) for name, row in standing.items() if not OWN_DEFINITIONS.why_not(row)}
    return definitions() | own


THE_WORDS = "words"  # the one text of them
OWN_WORDS = OwnTexts(OwnText.Kind.WORDS, lambda text, name: parse(text, f"{name}.toml", OwnWords))


def shop_words() -> dict[str, str]:
    """The shop's own words, each with the word of the program that it stands for."""
    row = OWN_WORDS.newest(THE_WORDS)
    return OWN_WORDS.value(row).words if row is not None and not OWN_WORDS.why_not(row) else {}


def _read(text: str, name: str) -> Profile:
    return parse(text, name, Profile)


OWN_PROFILES = OwnTexts(OwnText.Kind.LIMITS, _read)


def own_profiles() -> dict[str, Profile]:
    """This shop's copies that judge now, by the shipped profile whose place each has. One that this version of the
    program does not understand (`not_understood`) leaves the judging to the shipped one. Their version says which
    of the shop's it is."""
    own = {}
    for name, row in _newest().items():
        if not OWN_PROFILES.why_not(row):
            made = OWN_PROFILES.value(row)
            own[name] = made.model_copy(update={"version": f"{made.version}, shop {row.number}"})
    return own


def not_understood() -> dict[str, str]:
    """Why a copy of this shop does not judge, by the profile whose place it would have."""
    return {name: why for name, row in _newest().items() if (why := OWN_PROFILES.why_not(row))}


def _newest() -> dict[str, OwnText]:
    return {name: row for name, row in OWN_PROFILES.standing().items() if name in profiles()}


def keep_profile(*, actor: Person, name: str, text: str) -> None:
    """Judge by this text from now on in the place of a shipped profile. Raises Refused with line and row of each
    problem."""
    require_technician(actor)
    shipped, made = profiles()[name], OWN_PROFILES.checked(name, text)
    if made.kind != shipped.kind:
        raise Refused(f"{name}: kind is {made.kind!r}; a copy stays what its original is, {shipped.kind!r}.")
    with writing():
        OWN_PROFILES.add(name, text, actor)


@writing()
def withdraw_profile(*, actor: Person, name: str) -> None:
    """Judge by the shipped profile again; the copies stay to be read, what they judged keeps their version."""
    require_technician(actor)
    OWN_PROFILES.withdraw(name)
