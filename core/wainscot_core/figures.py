"""How numbers go out: at most nine significant figures, None for what is undefined. And how names do."""

import math
from collections.abc import Sequence


def figure(value: float | None) -> float | None:
    """A number of at most nine significant figures; None for undefined."""
    return None if value is None or not math.isfinite(value) else rounded(value)


def rounded(value: float) -> float:
    """A finite number with at most nine significant figures."""
    return float(f"{value:.9g}")


def plainly(value: float, digits: int = 3) -> str:
    """So many significant figures as people write them: 8160, never 8.16e+03."""
    return f"{float(f'{value:.{digits}g}'):.12g}"


def lowered(name: str) -> str:
    """A name within a sentence; one that begins with an abbreviation stays."""
    return name if name[:2].isupper() else name[:1].lower() + name[1:]


def listed(names: Sequence[str], most: int = 3) -> str:
    """Names as a sentence has them, the first few."""
    shown, more = list(names[:most]), len(names) - most
    if more > 0:
        return f"{', '.join(shown)} and {more} more"
    return shown[0] if len(shown) == 1 else f"{', '.join(shown[:-1])} and {shown[-1]}"
