import { useQuery } from "@tanstack/react-query";
import type { Case } from "~/api/client";
import { number, told } from "~/shared/format";
import { energyQuery } from "~/shared/queries";
import { Button } from "~/ui";
import { useSaving } from "./fields";

/** Figures that fit the dog better than the energy target that is set; each is taken by one key. */
export function EnergyOffers({ current }: { current: Case }) {
  const saving = useSaving();
  const energy = useQuery(energyQuery(current));
  const offers = energy.data?.offers ?? [];
  if (!energy.data || offers.length === 0) return null;
  const now = energy.data.chosen.target_kcal;
  return (
    <section aria-label="Energy that fits" className="mt-2 max-w-3xl border-oak-deep stile">
      <p>
        The energy target is <b>{number(now)} kcal a day</b>.
      </p>
      <ul>
        {offers.map((offer) => (
          <li key={offer.label} className="flex flex-wrap items-center gap-x-2">
            {told(offer.label)}, as {told(offer.why)}
            <Button
              small
              onClick={() =>
                saving.change([
                  { path: "energy_method", value: "kcal_per_day" },
                  { path: "kcal_per_day", value: Math.round(offer.kcal) },
                  { path: "energy_reason", value: `${offer.label}: ${offer.why}` },
                ])
              }
            >
              Take {number(offer.kcal)} kcal
            </Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
