"""Addresses: the API, the single-use way in, and one page for everything else."""

from django.urls import path, re_path

from young_spark.server.accounts.views import enter
from young_spark.server.config.api import api
from young_spark.server.config.page import page
from young_spark.server.live.stream import events

urlpatterns = [
    path("api/events", events),
    path("api/", api.urls),
    path("enter/<str:token>", enter),
    re_path(r"^(?!static/|api/).*$", page),
]
