"""Made-up traffic over the whole OpenAPI document, as technician, as reader and as nobody: nothing makes the server
fail."""

import os
import uuid
from collections import Counter

import pytest
import schemathesis
from django.conf import settings
from django.core.signals import request_finished, request_started
from django.core.wsgi import get_wsgi_application
from django.db import close_old_connections
from hypothesis import HealthCheck, Phase, seed
from hypothesis import settings as effort

from tests.server.conftest import connect, make_person
from tests.server.scenes import built_once
from young_spark.server.accounts.models import Person
from young_spark.server.config.api import api
from young_spark.server.jobs.services import check_in
from young_spark.server.readings.services import refresh

pytestmark = pytest.mark.long

PER_OPERATION = int(os.environ.get("YOUNG_SPARK_EXAMPLES", "2"))
# beside them every corner of every field is tried, hundreds of cases for a body of forty fields; in full where more
# examples are asked for, else the first of each operation and a share of the rest
FIRST, SHARE = (10**9, 1) if PER_OPERATION > 2 else (12, 12)
ENDS_THE_SESSION = {"sign_out"}
schema = schemathesis.openapi.from_dict(api.get_openapi_schema())
schema.app = get_wsgi_application()


tried: Counter[str] = Counter()
ROLES = ("nobody", "reader", "technician")  # in this order: what the last one changes the others do not see


@pytest.fixture(scope="module")
def scene(django_db_setup, django_db_blocker):
    """A shop with a job and an instrument."""
    with built_once(django_db_blocker):
        wren, _ = make_person("wren", "technician"), make_person("reader", "reader")
        refresh(check_in(actor=wren, job_id=uuid.uuid4(), words="Tarnbeck M27, marshal 8: no output"))
        connect()
        yield


@pytest.fixture
def cookies(scene, db, client_of):
    """The cookies of each role."""
    connect()
    found = {}
    for role, name in (("nobody", ""), ("reader", "reader"), ("technician", "wren")):
        client = client_of(Person.objects.filter(username=name).first())
        client.get("/api/me")
        found[role] = {n: morsel.value for n, morsel in client.cookies.items()} | {settings.CSRF_COOKIE_NAME: "a" * 32}
    for signal in (request_started, request_finished):
        signal.disconnect(close_old_connections)  # the test's transaction outlives each request
    yield found
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
    operation = case.operation.definition.raw["operationId"]
    tried[operation] += 1
    if operation in ENDS_THE_SESSION or (tried[operation] > FIRST and tried[operation] % SHARE):
        return
    case.headers = {**(case.headers or {}), "X-CSRFToken": "a" * 32}
    own = dict(case.cookies or {})
    for role in ROLES:
        case.cookies = {**own, **cookies[role]}
        answer = case.call(headers={"Host": "localhost"})
        assert answer.status_code < 500, (role, case.as_curl_command(), answer.text[:300])
        if answer.status_code >= 400 and "problem+json" in answer.headers.get("content-type", [""])[0]:
            assert 0 < len(answer.json()["detail"]) < 900
