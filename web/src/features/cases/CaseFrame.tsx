import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Link, Navigate, NavLink, Outlet, useLocation, useNavigate, useParams } from "react-router";
import { toast } from "sonner";
import { api, type Case, take } from "~/api/client";
import { ageText, bodyWeight } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { caseQuery } from "~/shared/queries";
import { useCase } from "~/shared/useCase";
import { useTitle } from "~/shared/useTitle";
import { Written } from "~/shared/Written";
import { Loading, Problem } from "~/ui";

/** A case is one frame: the steps on the left, the dog in one line on top, the work inside. */
export function CaseFrame() {
  const { caseId } = useParams();
  const found = useQuery(caseQuery(Number(caseId)));
  if (found.isPending) return <Loading what="the case" />;
  // What was fetched before stays on screen when it cannot be fetched again.
  if (!found.data) return <Problem error={found.error} retry={() => found.refetch()} />;
  return (
    <Written by={found.data.conventions}>
      <Frame current={found.data} />
    </Written>
  );
}

const STEPS: Record<string, string> = {
  intake: "Intake",
  energy: "Energy",
  targets: "Targets",
  plan: "Plan",
  history: "History",
};

function Frame({ current }: { current: Case }) {
  const step = STEPS[useLocation().pathname.split("/")[3] ?? ""];
  // A recipe says its own name.
  useTitle(step, step && current.dog.name);
  return (
    <div className="flex min-h-0 flex-1">
      <nav aria-label="Steps" className="w-28 shrink-0 border-line border-r py-2">
        <StepLink to={`/cases/${current.id}/intake`} label="Intake" />
        <StepLink to={`/cases/${current.id}/energy`} label="Energy" />
        <StepLink to={`/cases/${current.id}/targets`} label="Targets" />
        <RecipeSteps current={current} />
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

/** The recipes of the case: those at work, a new one, those put away. */
function RecipeSteps({ current }: { current: Case }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const refresh = () => client.invalidateQueries({ queryKey: keyOf("case", current.id) });
  const start = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/cases/{id}/recipes", {
          params: { path: { id: current.id } },
          body: { name: freeName(current.recipes.map((r) => r.name)) },
        }),
      ),
    onSuccess: async (made) => {
      await refresh();
      navigate(`/cases/${current.id}/recipes/${made.id}`);
    },
    onError: (error) => toast(error.message),
  });
  const takeBack = useMutation({
    mutationFn: (id: number) =>
      take(
        api.POST("/api/recipes/{id}/archive", {
          params: { path: { id } },
          body: { archived: false },
        }),
      ),
    onSuccess: (_, id) => refresh().then(() => navigate(`/cases/${current.id}/recipes/${id}`)),
    onError: (error) => toast(error.message),
  });
  const away = current.recipes.filter((r) => r.archived);
  return (
    <>
      {current.recipes
        .filter((r) => !r.archived)
        .map((recipe) => (
          <StepLink
            key={recipe.id}
            to={`/cases/${current.id}/recipes/${recipe.id}`}
            label={recipe.name}
          />
        ))}
      <button
        type="button"
        disabled={start.isPending}
        onClick={() => start.mutate()}
        className="block w-full border-transparent border-l-[3px] px-3 py-1.5 text-left text-soft leading-tight hover:bg-groove/60"
      >
        + New recipe
      </button>
      {away.length > 0 && (
        <details className="px-3 py-1 text-[13px]">
          <summary className="cursor-pointer text-soft">{away.length} put away</summary>
          <ul>
            {away.map((recipe) => (
              <li key={recipe.id} className="py-0.5">
                {recipe.name}{" "}
                <button
                  type="button"
                  className="underline"
                  aria-label={`Take “${recipe.name}” back`}
                  onClick={() => takeBack.mutate(recipe.id)}
                >
                  take back
                </button>
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}

/** "Draft 2" while there is a draft already. */
function freeName(taken: readonly string[]): string {
  const names = Array.from({ length: taken.length + 1 }, (_, i) => `Draft ${i + 1}`);
  return names.find((name) => !taken.includes(name)) ?? "Draft";
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
        {bodyWeight(dog.weight_kg)}
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
      <Link
        to={`/clients/${value.client.id}`}
        className="ml-auto text-soft underline-offset-2 hover:underline"
      >
        {value.client.name}
      </Link>
    </div>
  );
}

/** Opening a case leads to its first recipe. */
export function CaseStart() {
  const current = useCase();
  const first = current.recipes.find((r) => !r.archived);
  return <Navigate replace to={first ? `recipes/${first.id}` : "energy"} />;
}
