"""What an uploaded file is, by its first bytes; for the process that takes it in, which does not load the
kernel."""

from drafting.errors import ModelError


def check_header(head: bytes) -> None:
    """Refuse a file that cannot be STEP by its first bytes. Raises ModelError."""
    if not head.strip():
        raise ModelError("The file is empty.")
    if b"ISO-10303-21" not in head[:4096]:
        raise ModelError("This is not a STEP file: it does not begin with ISO-10303-21.")
