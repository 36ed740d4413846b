import { Term } from "~/shared/words/Term";

/** What is felt and seen at each body condition, 1 to 9. */
const CONDITION_WORDS: Record<number, string> = {
  1: "Bones stand out from a distance, no fat to feel, muscle clearly lost",
  2: "Ribs, spine and hips easily seen, little muscle lost",
  3: "Ribs easily felt and may be seen, waist and tuck plain",
  4: "Ribs easily felt under little fat, waist seen from above",
  5: "Ribs felt without much cover, waist behind the ribs, tucked belly",
  6: "Ribs felt under slight excess, waist there but not marked",
  7: "Ribs felt with difficulty, waist barely seen, fat over the loin",
  8: "Ribs not felt under heavy cover, no waist, fat at the tail base",
  9: "Massive fat over chest, spine and tail base, belly hangs",
};

/** Body condition 1 to 9: the dog that is drawn above it grows and shrinks with the score. */
export function BodyCondition({
  value,
  onChange,
}: {
  value: number | null;
  onChange: (score: number) => void;
}) {
  return (
    <fieldset data-field="dog.body_condition" className="flex flex-col items-center gap-1">
      <legend className="mx-auto text-data">
        <Term id="bcs">Body condition</Term>, ribs and waist
      </legend>
      <div className="flex border-ink border-t-2">
        {Object.keys(CONDITION_WORDS).map((key) => {
          const score = Number(key);
          const chosen = value === score;
          return (
            <label
              key={key}
              title={CONDITION_WORDS[score]}
              className={`flex h-7 w-9 cursor-pointer items-center justify-center border-line border-r first:border-l pointer-coarse:h-11 hover:bg-groove has-[:focus-visible]:outline-2 has-[:focus-visible]:outline-verdigris ${chosen ? "bg-ink font-semibold text-sheet hover:bg-ink" : ""}`}
            >
              <input
                type="radio"
                name="body-condition"
                className="sr-only"
                checked={chosen}
                onChange={() => onChange(score)}
                aria-label={`${score} of 9: ${CONDITION_WORDS[score]}`}
              />
              {score}
            </label>
          );
        })}
      </div>
      <p className="min-h-5 max-w-96 text-center text-data text-soft">
        {value ? `${CONDITION_WORDS[value]}.` : "Not scored: drawn as if it were 5."} Dotted: 3 and
        8.
      </p>
    </fieldset>
  );
}
