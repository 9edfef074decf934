"""Keeping a unit of the bench as a model of this shop."""

from django.db import transaction

from young_spark.core.job import as_model
from young_spark.server.accounts.models import Person
from young_spark.server.accounts.services import require_technician
from young_spark.server.jobs.models import Item
from young_spark.server.jobs.services import refresh_search
from young_spark.server.library.own_models import model_id, newest_version, write_model
from young_spark.server.problems import Refused
from young_spark.server.readings.models import Reading
from young_spark.server.readings.state import state_of


@transaction.atomic
def keep_as_model(*, actor: Person, item: Item, name: str) -> str:
    """Keep a unit as a model under a name; the unit is one of it from now on, and its figures count for the next.
    The same name again is the model's next version. Returns its id; raises Refused without a name or a kind."""
    require_technician(actor)
    words = " ".join(name.split())
    kept_as = model_id(words)
    state = state_of(item.job, item)
    if state.model is None:
        raise Refused("Say first what kind of unit it is: its plan comes from there.")
    made = as_model(
        state.model,
        words,
        job=item.job.number,
        wanted=state.wanted,
        facts=state.facts,
        stale=state.stale,
        told=[(line.number, story) for line, story in state.stories],
    )
    write_model(actor=actor, name=kept_as, model=made)
    item.model, item.model_version, item.rated_w = kept_as, newest_version(kept_as), None
    item.save(update_fields=["model", "model_version", "rated_w"])
    Reading.objects.filter(line__item=item).update(model=kept_as)
    refresh_search(item.job)
    return kept_as
