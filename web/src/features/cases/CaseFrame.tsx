import { useQuery } from "@tanstack/react-query";
import { Navigate, NavLink, Outlet, useParams } from "react-router";
import type { Case } from "~/api/client";
import { ageText, number } from "~/shared/format";
import { caseQuery } from "~/shared/queries";
import { useCase } from "~/shared/useCase";
import { Loading, Problem } from "~/ui";

/** A case is one frame: the steps on the left, the dog in one line on top, the work inside. */
export function CaseFrame() {
  const { caseId } = useParams();
  const found = useQuery(caseQuery(Number(caseId)));
  if (found.isPending) return <Loading what="the case" />;
  // What was fetched before stays on screen when it cannot be fetched again.
  if (!found.data) return <Problem error={found.error} retry={() => found.refetch()} />;
  const current = found.data;
  return (
    <div className="flex min-h-0 flex-1">
      <nav aria-label="Steps" className="w-28 shrink-0 border-line border-r py-2">
        <StepLink to={`/cases/${current.id}/intake`} label="Intake" />
        <StepLink to={`/cases/${current.id}/energy`} label="Energy" />
        <StepLink to={`/cases/${current.id}/targets`} label="Targets" />
        {current.recipes.map((recipe) => (
          <StepLink
            key={recipe.id}
            to={`/cases/${current.id}/recipes/${recipe.id}`}
            label={recipe.name}
          />
        ))}
        <StepLink to={`/cases/${current.id}/plan`} label="Plan" />
        <StepLink to={`/cases/${current.id}/history`} label="History" />
      </nav>
      <div className="flex min-w-0 flex-1 flex-col">
        <DogLine value={current} />
        <Outlet context={current} />
      </div>
    </div>
  );
}

function StepLink({ to, label }: { to: string; label: string }) {
  return (
    <NavLink
      to={to}
      className={({ isActive }) =>
        `block border-l-[3px] px-3 py-1.5 leading-tight ${isActive ? "border-oak bg-groove font-semibold" : "border-transparent hover:bg-groove/60"}`
      }
    >
      {label}
    </NavLink>
  );
}

function DogLine({ value }: { value: Case }) {
  const dog = value.dog;
  const sex = [dog.neutered ? "neutered" : dog.neutered === false ? "entire" : "", dog.sex]
    .filter((word) => word && word !== "unknown")
    .join(" ");
  return (
    <div className="flex flex-wrap items-baseline gap-x-4 gap-y-0.5 border-line border-b px-4 py-1.5">
      <h1 className="text-[17px]">{dog.name}</h1>
      <span className="text-soft">
        {[dog.breed, ageText(dog.age_months), sex].filter(Boolean).join(", ")}
      </span>
      <span>
        {number(dog.weight_kg, 1)} kg
        {dog.body_condition ? (
          <span className="text-soft">, condition {dog.body_condition}/9</span>
        ) : null}
      </span>
      {(value.conditions ?? []).map((k) => (
        <span key={k.id} className="border-madder border-b">
          {[k.name, k.stage].filter(Boolean).join(", ")}
        </span>
      ))}
      {(value.reactions ?? []).length > 0 && (
        <span>
          <span className="text-soft">reacts to </span>
          {(value.reactions ?? []).map((r) => r.food).join(", ")}
        </span>
      )}
      <span className="ml-auto text-soft">{value.client.name}</span>
    </div>
  );
}

/** Opening a case leads to its first recipe. */
export function CaseStart() {
  const current = useCase();
  const first = current.recipes[0];
  return <Navigate replace to={first ? `recipes/${first.id}` : "energy"} />;
}
