import { useState } from "react";
import { api, type Look, take } from "~/api/client";
import { spelled, told } from "~/shared/format";
import { notice } from "~/shared/notice";
import { type BenchLine, type Content, lineOf } from "./editor";

/** A way of feeding by its id, or own proportions by part. */
export type Way = Required<Pick<Look, "way" | "way_shares">>;

export const NO_WAY: Way = { way: "", way_shares: null };

/** A way of feeding on the bench: chosen, rescaled to, or started from. Each is one undo. */
export function useWays({
  recipeId,
  typed,
  content,
  setWay,
  applyLines,
}: {
  recipeId: number;
  typed: string;
  content: Content;
  setWay: (way: Way) => void;
  applyLines: (lines: BenchLine[], keepAs: string) => void;
}) {
  const [problem, setProblem] = useState("");
  const path = { id: recipeId };

  /** Do something that the server may refuse, and show why. */
  async function attempt(work: () => Promise<void>) {
    setProblem("");
    try {
      await work();
    } catch (error) {
      setProblem(error instanceof Error ? error.message : String(error));
    }
  }

  function choose(way: Way) {
    setProblem("");
    setWay(way);
  }

  const rescale = () =>
    attempt(async () => {
      const changed = await take(
        api.POST("/api/recipes/{id}/rescale", { params: { path }, body: JSON.parse(typed) }),
      );
      const to = new Map(changed.map((c) => [c.line, c.quantity]));
      applyLines(
        content.lines.map((line, i) => {
          const quantity = to.get(i);
          return quantity ? { ...line, text: quantity } : line;
        }),
        "before it was brought to proportions",
      );
    });

  /** Begin after a way of feeding, or of these foods. */
  const startFrom = (way: string, foods: string[] = []) =>
    attempt(async () => {
      const drafted = await take(
        api.POST("/api/recipes/{id}/template", {
          params: { path },
          body: { ...JSON.parse(typed), lines: [], way, way_shares: null, foods },
        }),
      );
      if (way) setWay({ way, way_shares: null });
      applyLines(
        drafted.map(({ food, name, quantity, methods }) =>
          lineOf({ food, name, methods, text: quantity }),
        ),
        "before the template",
      );
    });

  /** Begin with a recipe that the practice keeps, scaled to this dog. */
  const startWith = (kept: number) =>
    attempt(async () => {
      const begun = await take(
        api.POST("/api/recipes/{id}/begin", {
          params: { path },
          body: { ...JSON.parse(typed), lines: [], kept },
        }),
      );
      applyLines(
        begun.map(({ food, name, quantity, methods, preparation, note }) =>
          lineOf({ food, name, methods, text: quantity, preparation, note }),
        ),
        "before a kept recipe was taken",
      );
      const against = begun.filter((line) => line.why_not !== "");
      if (against.length > 0)
        notice(
          `Not for this dog as it stands: ${against.map((l) => `${spelled(l.name)} (${told(l.why_not)})`).join("; ")}.`,
        );
    });

  return { problem, choose, rescale, startFrom, startWith };
}

export type Ways = ReturnType<typeof useWays>;
