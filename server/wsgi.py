"""What gunicorn serves."""

import gc
import os

from django.core.wsgi import get_wsgi_application

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "server.settings.production")
application = get_wsgi_application()

# What is loaded now stays; of what requests make, most is gone without the collector.
gc.collect()
gc.freeze()
gc.set_threshold(50_000, 20, 100)
