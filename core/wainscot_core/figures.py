"""How numbers go out: at most nine significant figures, None for what is undefined."""

import math


def figure(value: float | None) -> float | None:
    """A number of at most nine significant figures; None for undefined."""
    return None if value is None or not math.isfinite(value) else rounded(value)


def rounded(value: float) -> float:
    """A finite number with at most nine significant figures."""
    return float(f"{value:.9g}")
