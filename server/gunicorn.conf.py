"""How gunicorn serves Fulgen on the maker's machine."""

# Two processes, so that one long computation never stops the other; each keeps its own caches.
workers = 2
preload_app = True
threads = 4
worker_class = "gthread"
# A request that computes longer than this is ended and its process replaced.
timeout = 60
graceful_timeout = 5
keepalive = 75
accesslog = None
loglevel = "warning"
