import { expect, it } from "vitest";
import { fieldOf } from "./useServerForm";

const values = { weight_kg: "", price: "" };

it("finds the box that a refusal is about, by its name or by where its path ends", () => {
  expect(fieldOf(values, "price")).toBe("price");
  expect(fieldOf(values, "dog.weight_kg")).toBe("weight_kg");
});

it("leaves what is about no box to the form", () => {
  expect(fieldOf(values, "measures.tsp")).toBeUndefined();
  expect(fieldOf(values, "")).toBeUndefined();
});
