"""The API: one router an app, every endpoint signed in unless it says otherwise."""

from typing import Any

from django.http import HttpRequest
from ninja import NinjaAPI
from ninja.parser import Parser
from ninja.security import django_auth

from young_spark.core.ground import plain_json
from young_spark.server import problems
from young_spark.server.accounts.api import router as accounts
from young_spark.server.bundles.api import router as bundles
from young_spark.server.handback.api import router as handback
from young_spark.server.library.api import router as library
from young_spark.server.library.texts_api import router as texts
from young_spark.server.live.api import router as live
from young_spark.server.live.path_api import router as path
from young_spark.server.readings.api import router as readings
from young_spark.server.records.api import router as records
from young_spark.server.slip.api import router as slip
from young_spark.server.slip.edit_api import router as edit
from young_spark.server.slip.gear_api import router as gear
from young_spark.server.slip.reference_api import router as reference
from young_spark.server.tracing.api import router as tracing
from young_spark.server.tracing.boards_api import router as boards
from young_spark.server.tracing.practice import router as practice


class BoundedJson(Parser):
    """Bodies as JSON, bounded; what is wrong with one is told by `problems`."""

    def parse_body(self, request: HttpRequest) -> Any:
        """The body as plain values."""
        return plain_json(request.body)


api = NinjaAPI(
    title="Young Spark", version="1", docs_url=None, openapi_url="/openapi.json", auth=django_auth, parser=BoundedJson()
)
problems.add_handlers(api)
for prefix, router in (
    ("", accounts),
    ("/library", library),
    ("/library", texts),
    ("/library", edit),
    ("", readings),
    ("", slip),
    ("", gear),
    ("", reference),
    ("/bench", live),
    ("", path),
    ("", records),
    ("", tracing),
    ("", practice),
    ("", boards),
    ("", bundles),
    ("", handback),
):
    api.add_router(prefix, router)
