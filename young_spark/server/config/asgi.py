"""The ASGI application that uvicorn serves."""

import os
import warnings

from django.core.asgi import get_asgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "young_spark.server.config.settings")
from young_spark.server.config.bounds import bounded

# WhiteNoise hands files over synchronously; under ASGI Django remarks on each of them
warnings.filterwarnings("ignore", message=".*StreamingHttpResponse must consume synchronous iterators.*")
application = bounded(get_asgi_application())
