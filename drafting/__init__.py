"""The craft of drafting: models, views, sizes, sheets and files, without any interface, HTTP or database code."""
