"""What gunicorn serves. The faces are read once, before it forks, so no maker waits for them."""

import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "fulgen_server.settings")
application = get_wsgi_application()

from fulgen.lettering.catalogue import families  # noqa: E402

for _family in families().values():
    _family.face().features()
