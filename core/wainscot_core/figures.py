"""How numbers go out: at most nine significant figures, None for what is undefined."""

import math
from decimal import ROUND_HALF_UP, Decimal


def figure(value: float | None) -> float | None:
    """A number of at most nine significant figures; None for undefined."""
    return None if value is None or not math.isfinite(value) else rounded(value)


def rounded(value: float) -> float:
    """A finite number with at most nine significant figures."""
    return float(f"{value:.9g}")


def printed(value: float | None, decimals: int = 0) -> str:
    """A number on paper: halves up, a narrow space that does not break between thousands, a dash for
    what is not known."""
    if value is None or not math.isfinite(value):
        return "–"
    step = Decimal(1).scaleb(-decimals)
    # repr is the shortest decimal that is this number: 0.125 rounds up, as on paper.
    rounded_value = Decimal(repr(float(value))).quantize(step, ROUND_HALF_UP)
    return f"{rounded_value:,f}".replace(",", "\u202f").replace("-", "−")


def printed_grams(grams: float) -> str:
    """A weight on paper, as finely as it must be weighed: 0.25 g of a powder is not 0.3 g."""
    decimals = 0 if grams >= 10 else 1 if grams >= 1 else 2 if grams >= 0.1 else 3
    return printed(grams, decimals)


def printed_share(share: float | None) -> str:
    """A share as a percentage, on one line."""
    return "–" if share is None else f"{printed(share * 100)}\u202f%"


def printed_difference(share: float) -> str:
    """By how much something differs, as a percentage with its sign."""
    rounded_pct = round(share * 100)
    return (
        "the same"
        if rounded_pct == 0
        else f"{'+' if rounded_pct > 0 else '−'}{abs(rounded_pct)}\u202f%"
    )
