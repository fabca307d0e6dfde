"""Errors whose text is meant for the drafter: one sentence that says what is wrong and, where known, what
would be right."""


class DraftingError(Exception):
    """Base of every error that carries a sentence for the user."""


class ModelError(DraftingError):
    """A model file or recipe cannot be read or built."""


class ViewError(DraftingError):
    """A view cannot be derived or placed."""


class SizeError(DraftingError):
    """A size cannot be taken from what was picked."""


class CommandError(DraftingError):
    """An edit does not fit the drawing it is made on."""


class PublishError(DraftingError):
    """A sheet cannot be written to a file."""
