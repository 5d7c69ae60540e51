"""What gunicorn serves. The faces are read once, before it forks, so no maker waits for them."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fulgen_server.settings")
application = get_wsgi_application()

from fulgen.lettering.catalogue import families  # noqa: E402

for _family in families().values():
    _family.face().features()

# What was read at the start stays for good, so the collector need not look through it while a maker waits.
gc.collect()
gc.freeze()
