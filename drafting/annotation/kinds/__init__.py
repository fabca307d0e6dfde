"""The kinds of annotation, one module each. A new one is registered by one line in
`drafting.annotation.registry`."""
