import type { Trial, TrialMoveKind } from "~/api/client";

type Phase = Trial["now"]["phase"];

const PHASES: Record<Phase, string> = {
  baseline: "before the diet",
  "change-over": "change-over",
  trial: "nothing but the diet",
  provocation: "old diet back",
  confirming: "diet again",
  ready: "clear",
  item: "is tried",
  washout: "washout",
  ended: "ended",
};

/** A phase in words. */
export function phaseWords(phase: Phase, food: string): string {
  return phase === "item" ? `${food} is tried` : PHASES[phase];
}

export interface MoveWords {
  /** What its button says. */
  button: string;
  /** What it does, above its form. */
  says: string;
}

export const MOVES: Record<TrialMoveKind, MoveWords> = {
  "change-over": {
    button: "Begin the change-over",
    says: "From this day on the new diet comes in step by step.",
  },
  feed: {
    button: "Nothing but the diet",
    says: "The first day on the diet alone: the clock of the trial starts.",
  },
  exposure: {
    button: "Something slipped in",
    says: "Anything else by mouth: a treat, a flavoured tablet, another pet’s food, something found.",
  },
  disturbance: {
    button: "Something else changed",
    says: "A medicine, the season, fleas, an infection: what moves itch or stool beside food.",
  },
  read: {
    button: "Read the trial",
    says: "The last seven days against the baseline, by what was put down.",
  },
  provoke: {
    button: "Give the old diet back",
    says: "All of what was fed before, up to 14 days. Stop at the first flare.",
  },
  item: {
    button: "Try one food",
    says: "One food in a full serving each day, the diet beside it. Nothing else new.",
  },
  flare: {
    button: "A flare: stop it",
    says: "Back to the diet today. A swollen face or throat: the veterinarian at once.",
  },
  pass: {
    button: "No flare: end it",
    says: "It was given to the end and nothing happened.",
  },
  clear: {
    button: "As before again",
    says: "Itch and stool are back where they were before.",
  },
  finish: {
    button: "Finish the trial",
    says: "The maintenance diet is built from the foods that passed.",
  },
  stop: {
    button: "Stop the trial",
    says: "It ends here and is kept on record. It can be taken back.",
  },
};

export const OUTCOMES = {
  response: "it responded",
  partial: "it responded in part",
  none: "no response",
} as const;

export const VERDICTS = {
  reacts: "reacts",
  likely: "likely reacts",
  tolerated: "tolerated",
  unsure: "not known",
} as const;

export const DISTURBANCES = {
  medicine: "a new medicine",
  masking: "a medicine that hides itch (a steroid, oclacitinib)",
  season: "the season, pollen",
  parasites: "fleas, mites",
  infection: "an infection of skin or ear",
} as const;
