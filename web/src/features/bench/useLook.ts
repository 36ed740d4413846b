import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import type { Case, Look } from "~/api/client";
import type { Basis } from "~/shared/format";
import { standardsQuery } from "~/shared/queries";
import { NO_WAY } from "./useWays";

export type Policy = NonNullable<Look["data_policy"]>;

/** A standard at a life stage as one thing to choose. */
function stageId(standard: string, lifeStage: string): string {
  return `${standard}|${lifeStage}`;
}

function stageOf(id: string): { standard: string; life_stage: string } | null {
  const [standard, life_stage] = id.split("|");
  return standard && life_stage ? { standard, life_stage } : null;
}

/** How the recipe is looked at: standard, a second one beside it, policy, way of feeding, basis. */
export function useLook(current: Case) {
  const standards = useQuery(standardsQuery);
  const [standard, setStandard] = useState(stageId(current.standard, current.life_stage));
  const [second, setSecond] = useState("");
  const [policy, setPolicy] = useState<Policy>(current.data_policy);
  const [way, setWay] = useState(NO_WAY);
  const [basis, setBasis] = useState<Basis>("per_1000_kcal");
  const choices = useMemo(
    () =>
      (standards.data ?? []).flatMap((s) =>
        s.life_stages.map((stage) => ({
          id: stageId(s.id, stage.id),
          label: `${s.name}, ${stage.name}`,
        })),
      ),
    [standards.data],
  );
  const asked: Look = {
    ...stageOf(standard),
    second: stageOf(second),
    data_policy: policy,
    ...way,
  };
  return {
    asked,
    choices,
    standard,
    setStandard,
    second,
    setSecond,
    policy,
    setPolicy,
    way,
    setWay,
    basis,
    setBasis,
  };
}

export type LookState = ReturnType<typeof useLook>;
