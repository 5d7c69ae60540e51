"""How gunicorn serves Fulgen on the maker's machine."""

# One process, so that what is known of a pair of letters is known for every request; its threads take
# turns, so that a long computation slows the others down and stops none.
workers = 1
preload_app = True
threads = 6
worker_class = "gthread"
# A request that computes longer than this is ended and its process replaced.
timeout = 60
graceful_timeout = 5
keepalive = 75
accesslog = None
loglevel = "warning"
