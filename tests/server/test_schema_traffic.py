"""Made-up traffic over the whole OpenAPI document, as technician, as reader and as nobody: nothing makes the server fail."""

import os

import pytest
import schemathesis
from django.conf import settings
from django.core.signals import request_finished, request_started
from django.core.wsgi import get_wsgi_application
from django.db import close_old_connections
from hypothesis import HealthCheck, Phase, seed
from hypothesis import settings as effort

from tests.server.conftest import connect
from young_spark.server.config.api import api

PER_OPERATION = int(os.environ.get("YOUNG_SPARK_EXAMPLES", "6"))
ENDS_THE_SESSION = {"sign_out"}
schema = schemathesis.openapi.from_dict(api.get_openapi_schema())
schema.app = get_wsgi_application()


@pytest.fixture(params=["technician", "reader", "nobody"])
def cookies(request, wren, reader, client_of, job):
    """The cookies of one role, on a shop with a job and an instrument."""
    connect()
    client = client_of({"technician": wren, "reader": reader}.get(request.param))
    client.get("/api/me")
    found = {name: morsel.value for name, morsel in client.cookies.items()}
    for signal in (request_started, request_finished):
        signal.disconnect(close_old_connections)  # the test's transaction outlives each request
    yield found | {settings.CSRF_COOKIE_NAME: "a" * 32}
    for signal in (request_started, request_finished):
        signal.connect(close_old_connections)


# the traffic generator's client leaves a streamed answer for the collector to close
@pytest.mark.filterwarnings("ignore::pytest.PytestUnraisableExceptionWarning")
@schema.parametrize()
@seed(20)
@effort(
    max_examples=PER_OPERATION,
    derandomize=True,
    database=None,
    phases=[Phase.explicit, Phase.generate],
    suppress_health_check=list(HealthCheck),
)
def test_nothing_makes_the_server_fail(case, cookies):
    if case.operation.definition.raw["operationId"] in ENDS_THE_SESSION:
        return
    case.cookies = {**(case.cookies or {}), **cookies}
    case.headers = {**(case.headers or {}), "X-CSRFToken": "a" * 32}
    answer = case.call(headers={"Host": "localhost"})
    assert answer.status_code < 500, (case.as_curl_command(), answer.text[:300])
    if answer.status_code >= 400 and "problem+json" in answer.headers.get("content-type", [""])[0]:
        assert 0 < len(answer.json()["detail"]) < 900
