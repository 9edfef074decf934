"""The one page: a template that loads the built web with this response's nonce."""

import json
from functools import cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.cache import never_cache
from django.views.decorators.csrf import ensure_csrf_cookie


@cache
def _entry() -> dict[str, object]:
    """Script and styles of the built web, from Vite's manifest."""
    manifest = json.loads((settings.WEB_DIST / ".vite" / "manifest.json").read_text())
    entry = manifest["index.html"]
    return {"script": entry["file"], "styles": entry.get("css", [])}


@never_cache
@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The page, or one sentence when the web has not been built."""
    try:
        entry = _entry()
    except FileNotFoundError:
        return HttpResponse(
            "The web is not built yet: run './spark serve' or './spark demo'.", status=503, content_type="text/plain"
        )
    return render(request, "index.html", {**entry, "nonce": str(getattr(request, "csp_nonce", ""))})
