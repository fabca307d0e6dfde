"""The Django side: accounts, models, drawings, jobs and the API. It keeps and serves; the craft is in
`drafting`."""
