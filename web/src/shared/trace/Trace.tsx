import type { Step } from "~/api/client";
import { number, unitText } from "~/shared/format";

function figure(value: number): string {
  const size = Math.abs(value);
  return number(value, size >= 100 ? 1 : size >= 1 ? 2 : 4);
}

/** How a figure came about, step by step. */
export function Trace({ steps }: { steps: Step[] }) {
  return (
    <details>
      <summary className="cursor-pointer font-semibold">How it is computed</summary>
      <ol className="mt-1 flex flex-col gap-2">
        {steps.map((step) => (
          <li key={step.label} className="border-line border-l-2 pl-2">
            <div className="flex justify-between gap-2">
              <span>{step.label}</span>
              <b className="shrink-0">
                {figure(step.value)} {unitText(step.unit)}
              </b>
            </div>
            <div className="text-label text-soft leading-snug">
              {step.formula}
              <ul>
                {step.inputs.map((input) => (
                  <li key={input.name}>
                    {input.name}: {figure(input.value)} {unitText(input.unit)}
                    {input.source && <> — {input.source}</>}
                  </li>
                ))}
              </ul>
              {step.source}
            </div>
          </li>
        ))}
      </ol>
    </details>
  );
}
