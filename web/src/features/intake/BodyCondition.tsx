import { Term } from "~/shared/words/Term";

/** Body condition 1 to 9: a dog from above, drawn wider at the waist with the score. */
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

export function BodyCondition({
  value,
  onChange,
}: {
  value: number | null;
  onChange: (score: number) => void;
}) {
  return (
    <fieldset data-field="dog.body_condition">
      <legend className="font-medium">
        <Term id="bcs">Body condition</Term>
      </legend>
      <div className="flex flex-wrap gap-1">
        {Object.keys(CONDITION_WORDS).map((key) => {
          const score = Number(key);
          const waist = 5 + score * 1.15;
          return (
            <label
              key={key}
              title={CONDITION_WORDS[score]}
              className={`flex w-14 cursor-pointer flex-col items-center rounded-corner border p-1 has-[:focus-visible]:outline-2 has-[:focus-visible]:outline-verdigris ${value === score ? "border-ink bg-groove" : "border-line"}`}
            >
              <input
                type="radio"
                name="body-condition"
                className="sr-only"
                checked={value === score}
                onChange={() => onChange(score)}
                aria-label={`${score} of 9: ${CONDITION_WORDS[score]}`}
              />
              <svg viewBox="0 0 40 64" className="h-14" aria-hidden="true">
                <path
                  d={`M20 3 C24 3 25 8 24 12 C${31} 14 ${30 + score * 0.4} 24 ${20 + waist - 1} 32 C${20 + waist} 40 ${29 + score * 0.5} 44 28 54 L20 60 L12 54 C${11 - score * 0.5} 44 ${20 - waist} 40 ${20 - waist + 1} 32 C${10 - score * 0.4} 24 9 14 16 12 C15 8 16 3 20 3Z`}
                  fill={value === score ? "var(--oak)" : "var(--oak-pale)"}
                  stroke="var(--ink)"
                  strokeWidth="1"
                />
              </svg>
              {score}
            </label>
          );
        })}
      </div>
      {value && <p className="text-data text-soft">{CONDITION_WORDS[value]}.</p>}
    </fieldset>
  );
}
