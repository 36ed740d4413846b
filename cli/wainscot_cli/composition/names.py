"""Which rows of the Standard Reference are whole foods, what class, what form, what name."""

import re

# First two digits of the NDB number.
GROUPS = {
    "01": "dairy-egg",
    "02": "herb-spice",
    "04": "fat-oil",
    "05": "poultry",
    "09": "fruit",
    "10": "pork",
    "11": "vegetable",
    "12": "nut-seed",
    "13": "beef",
    "15": "fish",
    "16": "legume",
    "17": "lamb-game",
    "20": "grain",
    "23": "beef",
}
# Single rows of mixed groups that are plain ingredients.
EXTRA = {
    "08120": "grain",
    "08121": "grain",
    "19177": "supplement-food",
    "18375": "supplement-food",
    "18369": "supplement-food",
    "43406": "supplement-food",
    "42231": "fat-oil",
    "19334": "other",
    "19296": "other",
    "19304": "other",
}
LAND_ANIMAL = {"poultry", "pork", "beef", "lamb-game"}
PLANT = {"herb-spice", "fruit", "vegetable", "nut-seed", "legume", "grain"}

_NOT_WHOLE = re.compile(
    r"""SALAD\ DRSNG|MAYO|MARGARINE|SHORTENING|SANDWICH\ SPRD|IMITN|IMITATION|CREAM\ SUB|EGGNOG
    |FILLED|DESSERT\ TOPPING|CHEESE\ (FD|SPRD|FOOD|SUB|FONDUE|SAUCE)|PAST\ PROCESS|SHAKE|INF\ FORMULA
    |BATTER|BREADED|\bFRIED\b|FRENCH\ FR|HASH\ BROWN|AU\ GRATIN|SCALLPD|SCALLOPED|O'BRIEN|PUFFS
    |CANDIED|(?<!UN)\bSWTND|\bSWEETENED|W/\s?SUGAR|SYRUP|\bSYR\b|PICKLE|RELISH|CATSUP|KETCHUP|SALSA
    |BACON|CURED|\bSMOKED|CORNED|JERKY|SAUSAGE|FRANKFURTER|BOLOGNA|LUNCHEON|PASTRAMI|\bLOAF\b|MEATBALLS
    |CHILI\ WITH|BAKED,|BKD,|FRANKS|CHIK|VEGGIE|BURGER(?!,GROUND)|MEATLESS|VEGETARIAN\ F|SOYBURGER
    |KRAFT|SILK|WORTHINGTON|LOMA\ LINDA|MORNINGSTAR|HOUSE\ FOODS|VITASOY|MORI-NU|AZUMAYA|NASOYA
    |HORMEL|CAMPBELL|ENSURE|PACE\b|OLD\ EL\ PASO|SMART\ BALANCE|BENECOL|TACO|BURRITO|PIZZA|MUSHROOM.*SAUCE
    |STUFFING|SOUFFLE|CASSEROLE|SALAD(?!\ OR\ COOKING)|COLESLAW|SUCCOTASH|W/SAU|IN\ SAU|BUTTER\ SAU|CHEESE\ SAU
    |YOKAN|NATTO\ W|TEMPURA|SURIMI|GEFILTE|STICKS|STKS|PATTIES,FRZ|BABYFOOD|COCKTAIL|PIE\ FILL|PIE\ MIX
    |FRUIT,LOW|FRUIT\ VAR|VANILLA,|CHOC|COFFEE|MALTED|REFRIED|HUMMUS|FALAFEL|PAPAD|\bMISO\b|GRAVY|SEASONED
    |WITH\ PASTA|W/PASTA|RESTAURANT|SELF-RISING|PRETZEL|CANDY|HONEY\ RSTD|POPCORN|BOUILLON|\bBROTH
    |W/SALT|WITH\ SALT|\bSALTED|SALT\ ADDED""",
    re.X,
)
_SALT_OK = re.compile(r"^BUTTER,|CHEESE")

_ABBREVIATIONS = {
    "CKD": "cooked", "RAW": "raw", "LN": "lean", "BLD": "boiled", "RSTD": "roasted",
    "DRND": "drained", "CND": "canned", "FRZ": "frozen", "FRSH": "fresh", "CHOIC": "choice",
    "SKN": "skin", "BRLD": "broiled", "BRSD": "braised", "SOL": "solids", "GRDS": "grades",
    "SHLDR": "shoulder", "SEL": "select", "UNPREP": "unprepared", "VAR": "variety",
    "BY-PRODUCTS": "by-products", "DOM": "domesticated", "PK": "pack", "BNLESS": "boneless",
    "IMP": "imported", "LT": "light", "DRSNG": "dressing", "SWT": "sweet", "REG": "regular",
    "COMP": "composite", "JUC": "juice", "FLR": "flour", "BNS": "beans", "RST": "roast",
    "UNHTD": "unheated", "HTD": "heated", "AUS": "Australian", "VEG": "vegetable",
    "RTL": "retail", "CNTR": "center", "BTTM": "bottom", "ENR": "enriched", "BF": "beef",
    "HVY": "heavy", "STWD": "stewed", "GRN": "green", "GRNS": "greens", "SHRT": "short",
    "VIT": "vitamin", "PROT": "protein", "HYDR": "hydrogenated", "YEL": "yellow",
    "BKD": "baked", "NZ": "New Zealand", "SML": "small", "STK": "steak", "DK": "dark",
    "SPRD": "spread", "KRNLS": "kernels", "SOYBN": "soybean", "IMMAT": "immature",
    "PREP": "prepared", "SIMMRD": "simmered", "UNENR": "unenriched", "LRG": "large",
    "NAT": "natural", "SD": "seed", "MOIST": "moisture", "SIRL": "sirloin", "CONC": "concentrate",
    "CHOPD": "chopped", "WNTR": "winter", "SMMR": "summer", "CRM": "cream", "CRMD": "creamed",
    "PLN": "plain", "LIQ": "liquid", "UNCKD": "uncooked", "DEHYD": "dehydrated",
    "MSHD": "mashed", "PAST": "pasteurized", "CTTNSD": "cottonseed", "INCL": "including",
    "COMM": "commercial", "STMD": "steamed", "LO": "low", "LOFAT": "low fat", "WHL": "whole",
    "PROC": "processed", "CHS": "cheese", "GRLD": "grilled", "PAR": "partially", "PART": "part",
    "TSTD": "toasted", "INST": "instant", "H2O": "water", "PNUT": "peanut", "MTRE": "mature",
    "PRTRHS": "porterhouse", "APPROX": "approximately", "PARBLD": "parboiled",
    "PRECKD": "precooked", "MXD": "mixed", "BNE-IN": "bone-in", "PDR": "powder",
    "DECORT": "decorticated", "COCNT": "coconut", "MEDM": "medium", "TENDRLN": "tenderloin",
    "SP": "species", "UNSWTND": "unsweetened", "EVAP": "evaporated", "RND": "round",
    "CRSH": "crushed", "LVS": "leaves", "UNSPEC": "unspecified", "QTR": "quarter", "MED": "medium",
}  # fmt: skip
_DROP = re.compile(
    r",?VAR(IETY)? MEATS\s?&?( AND )?\s?BY-PRODUCTS|,?BROILERS OR FRYERS|,MATURE SEEDS|,USDA CMDTY",
)


def food_class(ndb: str) -> str | None:
    """Class of a Standard Reference row, or None when its group is not whole food."""
    return EXTRA.get(ndb) or GROUPS.get(ndb[:2])


def is_whole_food(ndb: str, name: str) -> bool:
    """Leave out restaurant, branded, baby, fried, breaded, sweetened, cured, mixed rows."""
    if ndb in EXTRA:
        return True
    if re.search(r"CALCULATOR|USDA (CMDTY|COMMODITY)|BREAST TENDERS", name):
        return False
    if food_class(ndb) is None:
        return False
    hit = _NOT_WHOLE.search(name)
    return hit is None or (bool(_SALT_OK.match(name)) and "SALT" in hit.group(0))


def form_of(name: str) -> str:
    """raw, cooked, canned, dried, frozen or plain, from the words of the name."""
    text = name.upper().replace("ARM&BLD", "ARM AND BLADE").lower()
    if re.search(r"\bcnd\b|canned", text):
        return "canned"
    if re.search(
        r"\b(ckd|cooked|bld|boiled|rstd|roasted|brsd|braised|simm\w*|stwd|stewed|brld|broiled|bkd|baked"
        r"|grld|grilled|stmd|steamed|poached|pan-browned|scrambled|hard-boiled|microwaved|heated|stir-fried)\b",
        text,
    ) and not re.search(r"uncooked|unheated", text):
        return "cooked"
    if re.search(r"\braw\b|uncooked|unprep", text):
        return "raw"
    if re.search(r"\b(dried|dehyd\w*|dry|powder|pdr|ground|flour)\b", text):
        return "dried"
    return "plain"


def plain_name(name: str) -> str:
    """Turn a row name in capitals and abbreviations into words."""
    text = _DROP.sub("", name.upper()).replace("ARM&BLD", "ARM AND BLADE")
    text = re.sub(r"W/\s*", "with ", re.sub(r"WO/\s*", "without ", text))
    text = text.replace("&", " and ")
    words = []
    for token in re.split(r"([,\s()/]+)", text):
        words.append(_ABBREVIATIONS.get(token, token.lower()) if token.strip(",() /") else token)
    out = re.sub(r"\s*,\s*", ", ", "".join(words))
    out = re.sub(r"\s+", " ", out).strip(" ,")
    return out[:1].upper() + out[1:]


# Source groups a dog may react to: the classes of food that can hold them, and words of the row.
_PLANTS = ("grain", "legume", "vegetable", "nut-seed", "fat-oil")
_ALLERGENS: tuple[tuple[str, tuple[str, ...], str], ...] = (
    ("egg", ("dairy-egg",), r"^eggs?\b"),
    ("dairy", ("dairy-egg",), r"cheese|milk|yogurt|cream|butter|whey|kefir"),
    ("dairy", ("fat-oil",), r"^butter"),
    ("chicken", ("poultry", "fat-oil"), r"\bchick(en)?\b|capon|fryers|cornish"),
    ("turkey", ("poultry", "fat-oil"), r"turkey"),
    ("duck", ("poultry", "fat-oil"), r"\bduck\b"),
    ("poultry-other", ("poultry", "fat-oil"), r"goose|quail|pheasant|guinea hen|squab|ostrich|emu\b|^poultry"),
    ("poultry-other", ("dairy-egg",), r"egg,? (goose|quail|duck|turkey)"),
    ("beef", ("beef",), r""),
    ("beef", ("lamb-game", "fat-oil"), r"\bveal\b|\bbeefalo\b|beef"),
    ("lamb", ("lamb-game", "fat-oil"), r"\blamb\b|mutton"),
    ("goat", ("lamb-game", "dairy-egg"), r"\bgoat\b"),
    ("bison", ("lamb-game",), r"bison|buffalo"),
    ("venison", ("lamb-game",), r"venison|\bdeer\b|\belk\b|moose|caribou|antelope"),
    ("pork", ("pork",), r""),
    ("pork", ("lamb-game", "fat-oil"), r"\bboar\b|\blard\b"),
    ("pork", ("legume",), r"\bpork\b"),
    ("rabbit", ("lamb-game",), r"rabbit|\bhare\b"),
    ("crustacean", ("fish",), r"shrimp|crab|lobster|crayfish|crustacean|krill"),
    ("mollusc", ("fish",),
     r"mussel|oyster|clam|scallop|mollusk|squid|octopus|abalone|whelk|snail|cuttlefish|conch"),
    ("wheat", ("fat-oil",), r"wheat germ"),
    ("wheat", ("grain", "legume", "nut-seed"),
     r"(?<!buck)wheat|bulgur|couscous|macaroni|spaghetti|pasta(?!, corn)|semolina|\bnoodles|farro|spelt|kamut|soba|triticale"),
    ("barley", ("grain",), r"barley"),
    ("oats", ("grain", "fat-oil"), r"\boats?\b|oatmeal"),
    ("rye", ("grain",), r"\brye\b|triticale"),
    ("corn", ("grain", "vegetable", "fat-oil"), r"\bcorn\b|cornmeal|cornstarch|hominy"),
    ("rice", ("grain", "fat-oil"), r"\brice\b"),
    ("soy", _PLANTS, r"soy|tofu|tempeh|edamame|natto|okara|miso\b"),
    ("pea", ("legume", "vegetable"), r"\bpeas?\b(?!nut)"),
    ("lentil", ("legume", "vegetable"), r"lentil"),
    ("chickpea", ("legume",), r"chickpea|garbanzo|bengal gm"),
    ("bean", ("legume", "vegetable"),
     r"\bbeans?\b|\bbns\b|cowpea|lupin|moth ?bean|mung|mungo|broadbean|pigeon ?pea|yardlong|\badzuki|hyacinth|winged"),
    ("peanut", ("legume", "fat-oil", "nut-seed"), r"(?<!without )(peanut|\bpnut)"),
    ("potato", ("vegetable",), r"^potato"),
    ("sweet-potato", ("vegetable",), r"sweet ?potato"),
    ("yeast", ("supplement-food",), r"yeast"),
)  # fmt: skip


def allergens_of(name: str, klass: str) -> tuple[str, ...]:
    """Source groups a dog may react to, from a row's name and class."""
    text = name.lower()
    found = {
        key for key, classes, words in _ALLERGENS if klass in classes and re.search(words, text)
    }
    if "rice noodles" in text or "noodles, rice" in text:
        found -= {"wheat"}
    if klass == "vegetable" and text.startswith(("vegetables, mixed", "succotash")):
        # Corn, lima and snap beans, peas, carrots; succotash is corn and lima beans.
        found |= {"bean", "corn", "pea"}
    if "cellophane" in text:
        found = {"bean"}
    if (klass == "fish" and not {"crustacean", "mollusc"} & found) or "fish oil" in text:
        found.add("fish")
    return tuple(sorted(found))
