"""Rules that fill holes, or say why a zero is a true zero.

Each rule returns values with a provenance code; `Provenance` says what a code means.
Grades: analysed, borrowed, pattern, derived, stoichiometric, label, unknown.
"""

import csv
import re
from dataclasses import dataclass
from pathlib import Path

from wainscot_core.facts.bounds import POLYUNSATURATED

from .names import LAND_ANIMAL, PLANT

AMINO = ("ARG", "HIS", "ILE", "LEU", "LYS", "MET", "CYS", "PHE", "TYR", "THR", "TRP", "VAL")
ANIMAL = LAND_ANIMAL | {"fish", "dairy-egg"}


@dataclass(frozen=True)
class Provenance:
    """What a code in sources.csv stands for."""

    code: str
    grade: str
    text: str
    citation: str
    confidence: str


@dataclass
class Food:
    """A food while it is built: values and provenance codes by tag."""

    ndb: str
    name: str
    source_name: str
    klass: str
    form: str
    values: dict[str, float]
    codes: dict[str, str]
    # Of a derived food: what it may bring a reaction to, the groups that bound what is not known of it,
    # its bone as a share of the weight and the protein of that bone.
    table: str = "usda"
    allergens: str = ""
    like: str = ""
    bone_share: float = 0.0
    bone_protein_g: float = 0.0

    @property
    def id(self) -> str:
        """Its id in the tables."""
        return f"{self.table}:{self.ndb}"

    def put(self, tag: str, value: float, code: str) -> None:
        """Set a value that is still unknown."""
        if tag not in self.values:
            self.values[tag] = value
            self.codes[tag] = code


class Register:
    """Collects the provenance codes that were used."""

    def __init__(self) -> None:
        self.entries: dict[str, Provenance] = {}

    def add(self, code: str, grade: str, text: str, citation: str, confidence: str) -> str:
        self.entries.setdefault(code, Provenance(code, grade, text, citation, confidence))
        return code


# By what share an estimate may be off, either way, by the start of its code (the first that fits); then
# by its grade. Conventions from the spread of lots of one food, doubled for a pattern.
_SPREADS = (
    ("aa:", 0.15), ("fa:", 0.4), ("id:", 0.6), ("tau:", 0.5), ("r:pufa-ala", 0.05), ("r:no-", 0.0),
    ("r:pure-fat", 0.0), ("r:animal-only", 0.0), ("r:water-difference", 0.03), ("r:cl-na", 0.4),
    ("r:starch", 0.1), ("r:ash-median", 0.3),
)  # fmt: skip
# Codes of derived foods end in the percent by which a value may be off.
DERIVED = "der:"
_GRADE_SPREADS = {"borrowed": 0.25, "pattern": 0.3}


def spread_of(entry: Provenance) -> float:
    """The share of a value by which it may be off; 0 for what was measured."""
    if entry.code.startswith(DERIVED):
        return int(entry.code.rsplit(":", 1)[1]) / 100
    fits = (share for start, share in _SPREADS if entry.code.startswith(start))
    return next(fits, _GRADE_SPREADS.get(entry.grade, 0.0))


def read_csv(path: Path) -> list[dict[str, str]]:
    with path.open(newline="", encoding="utf-8") as handle:
        return list(csv.DictReader(handle))


# Zeros of source B that are accepted, and why. Everything else that is 0 in B is unknown.
def zero_reason(food: Food, tag: str) -> str | None:
    """Why a zero in the older table is a true zero for this food, or None (a hole)."""
    plant, animal = food.klass in PLANT, food.klass in LAND_ANIMAL | {"fish"}
    oil = food.klass == "fat-oil" and food.values.get("FAT", 0) >= 99
    if tag in {"WATER", "PROCNT", "FAT", "CHOCDF", "ASH", "ENERC"}:
        return "proximate values are complete in the Standard Reference; 0 is what was printed"
    if tag in {"FIBTG", "SUGAR"} and (
        animal or (food.klass == "dairy-egg" and tag == "FIBTG") or oil
    ):
        return "no fibre or sugar in muscle, organ, fish, egg or pure fat"
    if tag in {"VITB12", "CHOLE", "RETOL"} and (plant or (oil and _plant_oil(food))):
        return "plants make no vitamin B12, cholesterol or retinol"
    if tag == "RETOL" and animal and food.values.get("VITA_RAE", 0) > 0:
        return None  # what flesh has of vitamin A is retinol
    if (
        tag in {"VITA_RAE", "RETOL"}
        and food.klass in LAND_ANIMAL
        and not re.search(r"liver|kidney|giblet|variety|skin", food.name, re.I)
    ):
        return "lean muscle stores no vitamin A above what a table can print"
    if tag == "VITA_RAE" and plant:
        return "printed 0 retinol activity for a plant food without carotenes"
    if tag in {"FASAT", "FAMS", "FAPU"} and food.values.get("FAT", 1) < 0.3:
        return "no fat to speak of"
    if oil and tag in {
        "CA", "P", "K", "NA", "MG", "FE", "CU", "MN", "ZN", "SE", "THIA", "RIBF", "NIA",
        "PANTAC", "VITB6A", "VITB12", "CHOLN", "VITC",
    }:  # fmt: skip
        return "refined fats and oils hold no minerals, water-soluble vitamins or choline"
    if tag == "VITC" and food.klass in LAND_ANIMAL | {"fish"} and food.form == "cooked":
        return "cooked muscle holds no vitamin C"
    if tag == "NA" and plant and food.form in {"raw", "dried", "plain"}:
        return "printed 0 mg sodium for an unsalted plant food (rounded)"
    return None


def _plant_oil(food: Food) -> bool:
    return not re.search(
        r"fish|lard|tallow|chicken|turkey|duck|goose|butter|cod|salmon|menhaden|herring|sardine|mutton",
        food.name,
        re.I,
    )


_PATTERN_BY_NAME: tuple[tuple[str, str, str], ...] = (
    # (class or "*", regex on the plain name, amino acid pattern)
    ("*", r"gelatin|collagen", "gelatin_collagen"),
    ("poultry", r"skin only|feet", "skin"),
    ("pork", r"\b(ears|feet|tail)\b", "skin"),
    ("*", r"spirulina", "spirulina"),
    ("*", r"yeast", "yeast"),
    ("dairy-egg", r"egg.*white", "egg_white"),
    ("dairy-egg", r"egg.*yolk", "egg_yolk"),
    ("dairy-egg", r"^eggs?\b", "egg_whole"),
    ("dairy-egg", r"yogurt", "yogurt"),
    ("dairy-egg", r"cottage|ricotta", "cottage_cheese"),
    ("dairy-egg", r"cheese", "casein_cheese"),
    ("dairy-egg", r"milk|cream|butter|kefir|whey", "milk"),
    ("poultry", r"liver", "liver_chicken"),
    ("poultry", r"heart", "heart_chicken"),
    ("poultry", r"gizzard", "gizzard"),
    ("poultry", r"turkey", "turkey_muscle"),
    ("poultry", r"duck|goose", "duck_muscle"),
    ("poultry", r"", "chicken_muscle"),
    ("pork", r"liver", "liver_pork"),
    ("pork", r"heart", "heart_beef"),
    ("pork", r"kidney", "kidney_beef"),
    ("pork", r"", "pork_muscle"),
    ("beef", r"liver", "liver_beef"),
    ("beef", r"heart", "heart_beef"),
    ("beef", r"kidney", "kidney_beef"),
    ("beef", r"tripe|tendon|lung|spleen|brain|thymus|suet", ""),
    ("beef", r"ground", "beef_ground"),
    ("beef", r"", "beef_muscle"),
    ("lamb-game", r"liver", "liver_beef"),
    ("lamb-game", r"heart", "heart_beef"),
    ("lamb-game", r"kidney", "kidney_beef"),
    ("lamb-game", r"brain|lung|spleen|tripe|pancreas|thymus", ""),
    ("lamb-game", r"bison|buffalo", "bison_muscle"),
    ("lamb-game", r"venison|deer|elk|moose|caribou|antelope", "venison_muscle"),
    ("lamb-game", r"rabbit", "rabbit_muscle"),
    ("lamb-game", r"goat", "goat_muscle"),
    ("lamb-game", r"lamb|mutton", "lamb_muscle"),
    ("lamb-game", r"veal", "beef_muscle"),
    ("fish", r"mussel|oyster|clam|scallop|squid|octopus|abalone|whelk|cuttlefish|snail|conch", "mollusc"),
    ("fish", r"shrimp|crab|lobster|crayfish", "crustacean"),
    ("fish", r"roe|caviar|frog|turtle", ""),
    ("fish", r"", "fish_muscle"),
    ("grain", r"wild rice", ""),
    ("grain", r"rice.*(brown|bran)", "rice_brown"),
    ("grain", r"rice", "rice_white"),
    ("grain", r"oat", "oats"),
    ("grain", r"barley", "barley"),
    ("grain", r"corn|hominy", "maize"),
    ("grain", r"quinoa", "quinoa"),
    ("grain", r"millet", "millet"),
    ("grain", r"buckwheat", "buckwheat"),
    ("grain", r"wheat|bulgur|pasta|macaroni|spaghetti|couscous|noodles|semolina", "wheat_whole"),
    ("legume", r"lentil", "lentil"),
    ("legume", r"peas?, split|split peas?", "pea_split"),
    ("legume", r"chickpea", "chickpea"),
    ("legume", r"tofu|okara", "tofu"),
    ("legume", r"soy", "soy"),
    ("legume", r"beans?\b", "common_bean"),
    ("nut-seed", r"flax", "flax"),
    ("nut-seed", r"chia", "chia"),
    ("nut-seed", r"hemp", "hemp"),
    ("nut-seed", r"pumpkin", "pumpkin_seed"),
    ("nut-seed", r"sesame|tahini", "sesame"),
    ("nut-seed", r"sunflower", "sunflower_seed"),
    ("vegetable", r"sweet ?potato", "sweet_potato"),
    ("vegetable", r"^potato", "potato"),
    ("vegetable", r"kale|collard", "kale"),
    ("vegetable", r"spinach|chard|parsley|lettuce|beet green|arugula|endive", "leafy_greens"),
    ("vegetable", r"broccoli|cauliflower|brussels", "brassicas"),
    ("vegetable", r"cabbage", "cabbage"),
    ("vegetable", r"carrot|parsnip|turnip", "carrot_root_veg"),
    ("vegetable", r"^beet", "beet"),
    ("vegetable", r"zucchini|summer squash|squash, summer|cucumber", "zucchini"),
    ("vegetable", r"pumpkin|squash", "pumpkin_squash"),
    ("vegetable", r"(green )?beans?\b.*(green|snap)|^green beans|snap", "green_bean"),
    ("vegetable", r"peas", "pea_green"),
    ("vegetable", r"mushroom", "mushroom"),
    ("fruit", r"berr", "fruit_berry"),
    ("fruit", r"apple(?!.*pine)", "fruit_apple"),
    ("fruit", r"banana|pear|peach|plum|melon", "fruit"),
)  # fmt: skip


def amino_pattern_for(food: Food) -> str:
    """Name of the amino acid pattern for this food, "" when none is defensible."""
    for klass, pattern, name in _PATTERN_BY_NAME:
        if klass in ("*", food.klass) and re.search(pattern, food.name, re.I):
            return name
    return ""


# Fatty acid shares of total fat for animal foods, oils and seeds: regex -> item of the table.
_FATTY_BY_NAME: tuple[tuple[str, str, str], ...] = (
    ("fat-oil", r"olive", "olive oil"),
    ("fat-oil", r"safflower.*\boleic(?!.*linoleic)", "safflower oil, high-oleic"),
    ("fat-oil", r"safflower", "safflower oil, high-linoleic"),
    ("fat-oil", r"sunflower.*high oleic", "sunflower oil, high-oleic"),
    ("fat-oil", r"sunflower", "sunflower oil, high-linoleic (~65%)"),
    ("fat-oil", r"coconut", "coconut oil"),
    ("fat-oil", r"flax", "flaxseed oil"),
    ("fat-oil", r"lard", "lard"),
    ("fat-oil", r"tallow, beef|beef tallow", "beef tallow"),
    ("fat-oil", r"mutton", "mutton tallow"),
    ("fat-oil", r"chicken", "chicken fat"),
    ("fat-oil", r"turkey", "turkey fat"),
    ("fat-oil", r"duck", "duck fat"),
    ("fat-oil", r"salmon", "salmon oil"),
    ("fat-oil", r"sardine", "sardine oil"),
    ("fat-oil", r"cod liver", "cod liver oil"),
    ("fat-oil", r"menhaden", "menhaden oil"),
    ("fat-oil", r"herring", "herring oil"),
    ("dairy-egg", r"egg.*yolk", "egg yolk, raw"),
    ("dairy-egg", r"^eggs?\b(?!.*white)", "egg, whole, raw"),
    ("dairy-egg", r"cottage|cheese", "cottage cheese, 2%"),
    ("dairy-egg", r"yogurt|milk|cream", "yogurt, plain whole"),
    ("dairy-egg", r"butter", "butter"),
    ("poultry", r"liver", "chicken liver, raw"),
    ("poultry", r"heart", "chicken heart, raw"),
    ("poultry", r"gizzard", "chicken gizzard, raw"),
    ("poultry", r"turkey.*(ground|dark|leg|thigh)", "ground turkey, raw (93% lean)"),
    ("poultry", r"turkey", "turkey breast, skinless, raw"),
    ("poultry", r"duck", "duck, meat only, raw"),
    ("poultry", r"chicken.*ground", "ground chicken, raw"),
    ("poultry", r"chicken.*breast.*(meat only|without skin)", "chicken breast, skinless, raw"),
    ("poultry", r"chicken.*(meat only|without skin)", "chicken thigh, skinless, raw"),
    ("poultry", r"chicken", "chicken, meat+skin, raw"),
    ("pork", r"liver", "pork liver, raw"),
    ("pork", r"tenderloin|loin.*lean|lean", "pork tenderloin/loin lean, raw"),
    ("pork", r"heart|kidney|brain|lung|spleen", ""),
    ("pork", r"", "ground pork, raw (21% fat)"),
    ("beef", r"liver", "beef liver, raw"),
    ("beef", r"heart", "beef heart, raw"),
    ("beef", r"kidney", "beef kidney, raw"),
    ("beef", r"brain|lung|spleen|thymus|tripe|tongue", ""),
    ("beef", r"ground.*(95)", "ground beef 95%, raw"),
    ("beef", r"ground.*(90)", "ground beef 90%, raw"),
    ("beef", r"ground.*(85)", "ground beef 85%, raw"),
    ("beef", r"ground", "ground beef 80%, raw"),
    ("beef", r"", "beef round/sirloin lean only, raw"),
    ("lamb-game", r"liver|heart|kidney|brain|lung|spleen", ""),
    ("lamb-game", r"bison", "bison, ground, raw"),
    ("lamb-game", r"venison|deer", "venison, raw"),
    ("lamb-game", r"goat", "goat, raw"),
    ("lamb-game", r"rabbit", "rabbit, domesticated, raw"),
    ("lamb-game", r"lamb.*lean", "lamb lean only, raw"),
    ("lamb-game", r"lamb", "ground lamb, raw"),
    ("grain", r"oats?\b", "oats, dry"),
    ("grain", r"rice.*brown", "brown rice, raw"),
    ("grain", r"rice.*white", "white rice, raw"),
    ("grain", r"quinoa", "quinoa, dry"),
    ("nut-seed", r"flax", "flaxseed, whole"),
    ("nut-seed", r"chia", "chia seed"),
    ("nut-seed", r"hemp", "hemp seed, hulled"),
    ("nut-seed", r"pumpkin", "pumpkin seed kernels"),
    ("nut-seed", r"sesame", "sesame seed, whole"),
    ("fat-oil", r"^corn oil|oil.*\bcorn", "corn oil"),
    ("fat-oil", r"soybean oil", "soybean oil"),
    ("fat-oil", r"walnut", "walnut oil"),
    ("fat-oil", r"grapeseed", "grapeseed oil"),
    ("fish", r"salmon.*atlantic.*farm", "salmon, Atlantic farmed, raw"),
    ("fish", r"salmon.*atlantic", "salmon, Atlantic wild, raw"),
    ("fish", r"salmon", "salmon, pink, canned drained solids w/ bone"),
    ("fish", r"sardine", "sardine, Atlantic, canned in oil, drained with bone"),
    ("fish", r"mackerel.*jack", "mackerel, jack, canned drained"),
    ("fish", r"mackerel", "mackerel, Atlantic, raw"),
    ("fish", r"herring", "herring, Atlantic, raw"),
    ("fish", r"anchovy", "anchovy, European, raw"),
    ("fish", r"\bcod\b|haddock|pollock|whiting", "cod, Atlantic, raw"),
    ("fish", r"tilapia", "tilapia, raw"),
    ("fish", r"tuna.*light", "tuna, light, canned in water, drained"),
    ("fish", r"mussel", "mussel, blue, raw"),
    ("fish", r"shrimp", "shrimp, raw"),
)  # fmt: skip

_IODINE_TAURINE_BY_NAME: tuple[tuple[str, str, str, str], ...] = (
    ("ID", "beef", r"liver", "beef liver"),
    ("ID", "beef", r"heart", "heart (beef, chicken)"),
    ("ID", "beef", r"kidney", "kidney"),
    ("ID", "beef", r"tripe|brain|spleen|lung|thymus|tongue", ""),
    ("ID", "beef", r"", "beef, ground or muscle"),
    ("ID", "poultry", r"liver", "chicken liver"),
    ("ID", "poultry", r"heart", "heart (beef, chicken)"),
    ("ID", "poultry", r"gizzard", "gizzard"),
    ("ID", "poultry", r"turkey", "turkey muscle"),
    ("ID", "poultry", r"chicken.*thigh|chicken.*leg", "chicken thigh"),
    ("ID", "poultry", r"chicken", "chicken muscle"),
    ("ID", "poultry", r"duck", "lamb/goat/venison/bison/rabbit/duck muscle"),
    ("ID", "pork", r"liver", "pork liver"),
    ("ID", "pork", r"kidney", "kidney"),
    ("ID", "pork", r"heart|brain|lung|spleen", ""),
    ("ID", "pork", r"", "pork muscle"),
    ("ID", "lamb-game", r"kidney", "kidney"),
    ("ID", "lamb-game", r"liver|heart|brain|lung|spleen", ""),
    ("ID", "lamb-game", r"lamb|goat|venison|deer|bison|rabbit", "lamb/goat/venison/bison/rabbit/duck muscle"),
    ("ID", "fish", r"\bcod\b", "cod"),
    ("ID", "fish", r"haddock", "haddock"),
    ("ID", "fish", r"pollock", "pollock"),
    ("ID", "fish", r"salmon.*atlantic.*farm", "salmon, Atlantic farmed"),
    ("ID", "fish", r"salmon", "salmon, wild/canned pink or sockeye"),
    ("ID", "fish", r"sardine", "sardine, canned"),
    ("ID", "fish", r"mackerel", "mackerel"),
    ("ID", "fish", r"herring", "herring"),
    ("ID", "fish", r"tuna.*light", "tuna, light canned in water"),
    ("ID", "fish", r"tilapia|catfish|trout", "tilapia / catfish / trout (freshwater)"),
    ("ID", "fish", r"shrimp", "shrimp"),
    ("ID", "fish", r"oyster", "oysters"),
    ("ID", "fish", r"mussel", "mussels"),
    ("ID", "fish", r"clam", "clams"),
    ("ID", "fish", r"crab", "crab"),
    ("ID", "dairy-egg", r"egg.*white", "egg white"),
    ("ID", "dairy-egg", r"egg.*yolk", "egg yolk"),
    ("ID", "dairy-egg", r"egg.*hard|egg.*boiled", "egg, whole, hard boiled"),
    ("ID", "dairy-egg", r"^eggs?\b", "egg, whole, raw"),
    ("ID", "dairy-egg", r"^milk", "milk, cow"),
    ("ID", "dairy-egg", r"yogurt", "yogurt, plain"),
    ("ID", "dairy-egg", r"cottage", "cottage cheese"),
    ("ID", "dairy-egg", r"ricotta", "ricotta"),
    ("ID", "dairy-egg", r"cheddar", "cheddar"),
    ("ID", "dairy-egg", r"butter", "butter"),
    ("ID", "grain", r"rice.*brown", "rice, brown"),
    ("ID", "grain", r"rice.*white", "rice, white"),
    ("ID", "grain", r"oats|oatmeal", "oats"),
    ("ID", "grain", r"quinoa|barley|millet|buckwheat", "quinoa / barley / millet / buckwheat"),
    ("ID", "grain", r"pasta|macaroni|spaghetti", "pasta, unsalted water"),
    ("ID", "vegetable", r"sweet ?potato", "sweet potato"),
    ("ID", "vegetable", r"^potato", "potato, peeled boiled"),
    ("ID", "vegetable", r"carrot|squash|pumpkin|beet|zucchini", "carrot, squash, pumpkin, beet"),
    ("ID", "vegetable", r"green beans|snap|peas", "green beans / green peas"),
    ("ID", "vegetable", r"broccoli|cauliflower|cabbage|brussels", "broccoli, cauliflower, cabbage"),
    ("ID", "vegetable", r"spinach|kale", "spinach / kale"),
    ("ID", "legume", r"lentil|chickpea|bean", "legumes, cooked (lentil, chickpea, bean)"),
    ("ID", "fruit", r"apple|banana|berr", "fruit (apple, banana, blueberry)"),
    ("ID", "nut-seed", r"flax|chia|hemp|pumpkin|sesame", "seeds (flax, chia, hemp, pumpkin, sesame)"),
    ("TAU", "beef", r"heart", "beef heart"),
    ("TAU", "beef", r"liver", "beef liver"),
    ("TAU", "beef", r"kidney", "beef kidney"),
    ("TAU", "beef", r"tongue", "beef tongue"),
    ("TAU", "beef", r"spleen", "beef spleen"),
    ("TAU", "beef", r"lung", "beef lung"),
    ("TAU", "beef", r"tripe|brain|thymus", ""),
    ("TAU", "beef", r"ground", "beef, ground 25% fat"),
    ("TAU", "beef", r"", "beef muscle"),
    ("TAU", "poultry", r"chicken.*heart", "chicken heart"),
    ("TAU", "poultry", r"liver", "chicken liver"),
    ("TAU", "poultry", r"gizzard", "chicken gizzard"),
    ("TAU", "poultry", r"heart", ""),
    ("TAU", "poultry", r"turkey.*ground", "turkey, ground 7% fat"),
    ("TAU", "poultry", r"turkey.*(dark|leg|thigh)", "turkey dark meat"),
    ("TAU", "poultry", r"turkey", "turkey light meat"),
    ("TAU", "poultry", r"chicken.*(dark|leg|thigh)", "chicken dark meat (thigh/leg)"),
    ("TAU", "poultry", r"chicken.*(breast|light)", "chicken light meat (breast)"),
    ("TAU", "poultry", r"duck", "duck, leg/dark"),
    ("TAU", "pork", r"liver", "pork liver"),
    ("TAU", "pork", r"heart", "pork heart"),
    ("TAU", "pork", r"kidney", "pork kidney"),
    ("TAU", "pork", r"brain|lung|spleen", ""),
    ("TAU", "pork", r"", "pork loin"),
    ("TAU", "lamb-game", r"lamb.*liver", "lamb liver"),
    ("TAU", "lamb-game", r"heart|kidney|brain|lung|spleen|liver", ""),
    ("TAU", "lamb-game", r"lamb", "lamb leg/muscle"),
    ("TAU", "lamb-game", r"goat", "goat"),
    ("TAU", "lamb-game", r"venison|bison|deer", "venison / bison"),
    ("TAU", "lamb-game", r"rabbit", "rabbit, whole ground"),
    ("TAU", "lamb-game", r"veal", "veal"),
    ("TAU", "fish", r"\bcod\b|haddock|whiting|pollock", "white fish (cod, haddock, whiting)"),
    ("TAU", "fish", r"salmon", "salmon"),
    ("TAU", "fish", r"sardine", "sardine, canned"),
    ("TAU", "fish", r"mackerel", "mackerel"),
    ("TAU", "fish", r"herring", "herring"),
    ("TAU", "fish", r"tuna.*canned", "tuna, canned (albacore/light)"),
    ("TAU", "fish", r"shrimp", "shrimp"),
    ("TAU", "fish", r"clam", "clams"),
    ("TAU", "fish", r"oyster", "oysters"),
    ("TAU", "fish", r"mussel", "mussels"),
    ("TAU", "fish", r"scallop", "scallops"),
    ("TAU", "dairy-egg", r"^eggs?\b", "egg, whole"),
    ("TAU", "dairy-egg", r"^milk", "milk, cow"),
    ("TAU", "dairy-egg", r"yogurt", "yogurt, plain"),
    ("TAU", "dairy-egg", r"cheese|cottage", "cheese / cottage cheese"),
)  # fmt: skip


# What a cooked food is taken to keep of the taurine of the raw one where only that was surveyed.
TAURINE_KEPT = 0.5


def _first(table: tuple[tuple[str, str, str], ...], food: Food) -> str:
    for klass, pattern, item in table:
        if klass == food.klass and re.search(pattern, food.name, re.I):
            return item
    return ""


def fill_fatty_acids(food: Food, shares: dict[str, dict[str, str]], register: Register) -> None:
    """Fatty acids from the fat's own published shares, or PUFA - ALA for plants."""
    fat = food.values.get("FAT")
    if fat is None:
        return
    own_ala = food.codes.get("F18D3N3") in {"A", "fs:A"}
    if (food.klass in PLANT or (food.klass == "fat-oil" and _plant_oil(food))) and own_ala:
        pufa = food.values.get("FAPU")
        if pufa is not None and pufa >= food.values["F18D3N3"]:
            code = register.add(
                "r:pufa-ala",
                "pattern",
                "Linoleic acid as polyunsaturated fat minus ALA of the same food: in plants and their oils nothing else of weight is polyunsaturated",
                "USDA Standard Reference; checked on corn, soy, canola, olive, safflower, sunflower, sesame oil",
                "high",
            )
            food.put("F18D2N6", round(pufa - food.values["F18D3N3"], 4), code)
    item = _first(_FATTY_BY_NAME, food)
    row = shares.get(item) if item else None
    if row is None and food.klass not in ANIMAL:
        row = next((r for k, r in shares.items() if k.split(",")[0] == food.name.lower()), None)
    if row is not None:
        code = register.add(
            f"fa:{row['item']}",
            "pattern",
            f"Share of total fat in '{row['item']}' x fat of this food",
            row["source"],
            row["confidence"],
        )
        for tag in POLYUNSATURATED:
            if row[tag] != "":
                food.put(tag, round(float(row[tag]) / 100 * fat, 4), code)
    plant = food.klass in PLANT or (food.klass == "fat-oil" and _plant_oil(food))
    if plant and not re.search(r"seaweed|kelp|spirulina|laver|wakame|nori", food.name, re.I):
        code = register.add(
            "r:no-long-chain",
            "pattern",
            "Land plants make no arachidonic acid, EPA or DHA: true zero",
            "plant biochemistry; USDA Standard Reference practice",
            "high",
        )
        for tag in ("F20D4N6", "F20D5N3", "F22D6N3"):
            food.put(tag, 0.0, code)
    if fat < 0.05:
        code = register.add(
            "r:no-fat", "pattern", "No fat, so no fatty acids", "mass balance", "high"
        )
        for tag in POLYUNSATURATED:
            food.put(tag, 0.0, code)


def fill_amino_acids(food: Food, patterns: dict[str, dict[str, str]], register: Register) -> None:
    """Amino acids as the class pattern (g per 100 g protein) x protein."""
    protein = food.values.get("PROCNT")
    if protein is None:
        return
    if protein < 0.05:
        code = register.add(
            "r:no-protein", "pattern", "No protein, so no amino acids", "mass balance", "high"
        )
        for tag in AMINO:
            food.put(tag, 0.0, code)
        return
    row = patterns.get(amino_pattern_for(food))
    if row is None:
        return
    code = register.add(
        f"aa:{row['pattern']}",
        "pattern",
        f"Amino acid pattern of '{row['representative']}' per 100 g protein x protein of this food",
        row["source"],
        row["confidence"],
    )
    for tag in AMINO:
        if row[tag] != "":
            food.put(tag, round(float(row[tag]) / 100 * protein, 4), code)


def fill_iodine_taurine(
    food: Food, table: dict[tuple[str, str], dict[str, str]], register: Register
) -> None:
    """Iodine and taurine from published surveys, with their range; zeros where biology says so."""
    for tag, klass, pattern, item in _IODINE_TAURINE_BY_NAME:
        if klass != food.klass or tag in food.values or not re.search(pattern, food.name, re.I):
            continue
        if not item:
            food.codes.setdefault(tag + "!", "none")
            continue
        if tag + "!" in food.codes:
            continue
        row = table[(tag, item)]
        text = f"Survey figure for '{item}' ({row['state']}): {row['value']} {row['unit']}, range {row['low']} to {row['high']}"
        if tag == "TAU" and row["state"] == "raw" and food.form == "cooked":
            code = register.add(
                f"tau:{item}:cooked", "pattern", f"Half of it, as it leaves with liquid and drip. {text}",
                f"{row['source']}; Spitze et al. 2003", "low",
            )  # fmt: skip
            food.put(tag, round(TAURINE_KEPT * float(row["value"]), 1), code)
            continue
        code = register.add(
            f"{tag.lower()}:{item}", "pattern", text, row["source"], row["confidence"]
        )
        food.put(tag, float(row["value"]), code)
    for marker in [c for c in food.codes if c.endswith("!")]:
        del food.codes[marker]
    if food.klass in PLANT - {"vegetable"} or (
        food.klass == "vegetable" and not re.search(r"seaweed|kelp|laver|wakame", food.name, re.I)
    ):
        code = register.add(
            "r:no-taurine-plant",
            "pattern",
            "Not detected in land plants: true zero",
            "Laidlaw et al. 1990 (JPEN 14:183-188), recalled",
            "high",
        )
        food.put("TAU", 0.0, code)
    if food.klass == "fat-oil" and food.values.get("FAT", 0) >= 99:
        code = register.add(
            "r:pure-fat",
            "pattern",
            "Refined fats and oils hold no iodine, taurine, sugar or starch",
            "composition logic",
            "high",
        )
        for tag in ("ID", "TAU", "SUGAR", "STARCH", "CLD"):
            food.put(tag, 0.0, code)


_CHLORIDE = (("dairy-egg", r"^eggs?\b", 1.15), ("dairy-egg", r"^milk|yogurt", 2.1))


def fill_minor(food: Food, register: Register) -> None:
    """Vitamin D zero in land plants, chloride, starch, carotene equivalents."""
    if food.klass in PLANT and not re.search(r"mushroom|seaweed|fungi", food.name, re.I):
        code = register.add(
            "r:no-vitd-plant",
            "pattern",
            "Land plants hold no vitamin D: true zero",
            "plant biochemistry; USDA Standard Reference practice",
            "high",
        )
        food.put("VITD", 0.0, code)
        # A blank, not a printed zero, in the newer table also means none here.
        for tag in ("VITB12", "RETOL", "CHOLE"):
            food.put(
                tag,
                0.0,
                register.add(
                    "r:animal-only",
                    "pattern",
                    "Plants make no vitamin B12, cholesterol or retinol: true zero",
                    "plant biochemistry",
                    "high",
                ),
            )
    sodium = food.values.get("NA")
    if food.ndb == "02047" and sodium is not None:
        code = register.add(
            "st:nacl-cl",
            "stoichiometric",
            "Chloride = sodium x 35.45 / 22.99 = sodium x 1.542",
            "IUPAC atomic weights",
            "high",
        )
        food.put("CLD", round(sodium * 1.542, 1), code)
    elif sodium is not None:
        ratio = next(
            (k for c, p, k in _CHLORIDE if c == food.klass and re.search(p, food.name, re.I)), None
        )
        if ratio is None and food.klass in LAND_ANIMAL and food.form in {"raw", "cooked"}:
            ratio = 1.0
        if ratio is not None:
            code = register.add(
                f"r:cl-na-{ratio}",
                "pattern",
                f"Chloride estimated as sodium x {ratio} (unsalted flesh about 1.0, egg 1.15, milk 2.1)",
                "European food tables, recalled",
                "low",
            )
            food.put("CLD", round(sodium * ratio, 1), code)
    if food.klass == "grain" or re.search(r"^(sweet )?potato", food.name, re.I):
        parts = [food.values.get(t) for t in ("CHOCDF", "FIBTG", "SUGAR")]
        if None not in parts:
            carb, fibre, sugar = (float(p or 0) for p in parts)
            code = register.add(
                "r:starch",
                "pattern",
                "Starch as carbohydrate minus fibre minus sugars",
                "composition logic",
                "medium",
            )
            food.put("STARCH", round(max(0.0, carb - fibre - sugar), 2), code)
    if food.klass in LAND_ANIMAL | {"fish"}:
        food.put(
            "STARCH",
            0.0,
            register.add(
                "r:no-starch", "pattern", "No starch in animal flesh", "composition logic", "high"
            ),
        )
    rae = food.values.get("VITA_RAE")
    if rae is not None and food.klass in LAND_ANIMAL | {"fish"}:
        code = register.add(
            "r:retinol-rae",
            "pattern",
            "Retinol as the retinol activity of flesh, which stores no carotene to speak of",
            "definition of RAE (IOM 2001)",
            "medium",
        )
        food.put("RETOL", rae, code)
    retinol = food.values.get("RETOL")
    if rae is not None and retinol is not None:
        code = register.add(
            "r:cartbeq",
            "pattern",
            "beta-Carotene equivalents = 12 x (retinol activity equivalents - retinol)",
            "definition of RAE (IOM 2001)",
            "high",
        )
        food.put("CARTBEQ", round(max(0.0, 12 * (rae - retinol)), 1), code)
