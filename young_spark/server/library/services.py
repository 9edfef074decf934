"""What the shop has to measure with, and to judge by."""

from django.utils import timezone

from young_spark.core.limits import Profile, profiles
from young_spark.core.models import Model
from young_spark.core.reading import Instrument
from young_spark.server.library.models import ShopInstrument


def shop_instruments() -> dict[str, Instrument]:
    """The shop's instruments by id, as the core knows them."""
    today = timezone.now().date()
    rows = ShopInstrument.objects.order_by("name").prefetch_related("checks")
    return {row.id: row.as_instrument(today) for row in rows}


def profiles_of(model: Model | None) -> dict[str, Profile]:
    """The limit profiles a model is judged by; none without a model."""
    known = profiles()
    return {name: known[name] for name in (model.profiles if model else ()) if name in known}
