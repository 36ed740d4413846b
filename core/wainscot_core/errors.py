"""The one error a user can mend."""


class InputError(ValueError):
    """Input that cannot be used.

    `field` is a path such as ``recipe.lines[2].grams``; `message` says what is wrong
    and what to do about it.
    """

    def __init__(self, field: str, message: str) -> None:
        super().__init__(f"{field}: {message}")
        self.field = field
        self.message = message

    def __reduce__(self) -> tuple[type["InputError"], tuple[str, str]]:
        # As an exception pickles itself it would be made of its one text.
        return InputError, (self.field, self.message)

    def under(self, prefix: str) -> "InputError":
        """The same error with its field below `prefix`."""
        field = f"{prefix}.{self.field}" if self.field else prefix
        return InputError(field, self.message)
