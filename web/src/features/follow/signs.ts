import type { FollowEntryIn } from "~/api/client";

export type Sign = NonNullable<FollowEntryIn["signs"]>[number];

/** What is seen on a dog, as its owner says it. */
export const SIGN_WORDS: Record<Sign, string> = {
  ear: "ear red or itchy",
  paws: "licks its paws",
  "face-red": "face red",
  hives: "hives",
  swelling: "face or throat swells",
  blood: "blood",
  black: "black stool",
};
