"""The models of this shop that the units of a job are of, and the channel plans that those keep to, in bundles."""

from collections.abc import Callable
from typing import Any

from pydantic import Field

from young_spark.server.jobs.bundling import Joining, Section
from young_spark.server.jobs.models import Job
from young_spark.server.library.models import OwnText
from young_spark.server.library.own_models import OWN_MODELS, own_models
from young_spark.server.library.own_texts import OwnTexts
from young_spark.server.library.services import OWN_PLANS

MOST = 100


def _models_of(job: Job) -> set[str]:
    return set(job.items.values_list("model", flat=True))


def _plans_of(job: Job) -> set[str]:
    own = own_models()
    return {own[name].channel_plan or "" for name in _models_of(job) if name in own}


def _section(name: str, texts: OwnTexts[Any], used: Callable[[Job], set[str]]) -> Section:
    """One kind of own text: name → text. One that the shop has stays as it is; one that is not understood is
    refused."""

    def written(job: Job) -> dict[str, str]:
        wanted = used(job)
        return {of: _kept_by(job, own).text for of, own in texts.standing().items() if of in wanted}

    def check(job: Any, told: dict[str, str]) -> None:
        for of, text in told.items():
            texts.checked(of, text)

    def merge(into: Joining, told: dict[str, str]) -> None:
        here = texts.standing()
        for of, text in told.items():
            if of not in here:
                texts.add(of, text, into.job.created_by)
            _keep_to(into.job, texts, of, text)

    return Section(name, dict[str, str], Field({}, max_length=MOST), written, merge, check=check)


def _kept_by(job: Job, own: OwnText) -> OwnText:
    """The version of a model that the units of a job keep to, where they are not of the newest."""
    if own.kind != OwnText.Kind.MODELS:
        return own
    numbers = job.items.filter(model=own.name).values_list("model_version", flat=True)
    return OWN_MODELS.numbered(own.name, max((n for n in numbers if n is not None), default=own.number)) or own


def _keep_to(job: Job, texts: OwnTexts[Any], name: str, text: str) -> None:
    """Have the units that a bundle brings keep to the version that came with them, where this shop has it; one that
    is here already keeps to its own."""
    if texts.kind == OwnText.Kind.MODELS:
        version = texts.versions(name).filter(text=text).values_list("number", flat=True).last()
        job.items.filter(model=name, model_version=None).update(model_version=version)


CHANNELS = _section("channels", OWN_PLANS, _plans_of)
MODELS = _section("models", OWN_MODELS, _models_of)
