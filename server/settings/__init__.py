"""Settings: `base` for all, `local` for ./moorcrest start on one machine, `production` behind TLS, `test`."""
