"""What is looked at of an uploaded model before it is read."""

from django.conf import settings
from ninja.files import UploadedFile

from drafting.errors import ModelError
from drafting.model.upload import check_header
from server.library.reading import kind_of


def checked(one: UploadedFile, name: str, size: int) -> None:
    """Raises ModelError for a file that makes too large a whole, or is no model by its first bytes."""
    if size > settings.UPLOAD_LIMIT:
        raise ModelError(
            f"{name} is larger than {settings.UPLOAD_LIMIT // 2**20} MB, the most that can be brought in."
        )
    if kind_of(name) == "step":
        check_header(one.read(4096))
        one.seek(0)
