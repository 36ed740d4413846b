import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type ReactNode, useEffect, useRef } from "react";
import { Link, Navigate, NavLink, Outlet, useLocation, useNavigate, useParams } from "react-router";
import { ApiError, api, type Case, type CaseStep, type StepsOfCase, take } from "~/api/client";
import { Faults } from "~/shared/Faults";
import { ageText, bodyWeight, told } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { caseQuery, stepsQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { useCase } from "~/shared/useCase";
import { useTitle } from "~/shared/useTitle";
import { Written } from "~/shared/Written";

import { Menu, MenuButton, MenuLink } from "~/ui/Menu";
import { Guide, useGuiding } from "./Guide";
import { STATE_WORDS, StepMark } from "./StepMark";

/** The status of a record that holds what cannot be read. */
const UNREADABLE = 400;

/** A case is one frame: the steps on the left, the dog in one line on top, the work inside. */
export function CaseFrame() {
  const { caseId } = useParams();
  const found = useQuery(caseQuery(Number(caseId)));
  if (found.isPending) return <Loading what="the case" />;
  // What was fetched before stays on screen when it cannot be fetched again.
  if (!found.data)
    return (
      <div className="overflow-auto px-4">
        <Problem what="the case" error={found.error} retry={() => found.refetch()} />
        {found.error instanceof ApiError && found.error.status === UNREADABLE && (
          <Faults caseId={Number(caseId)} />
        )}
      </div>
    );
  return (
    <Written by={found.data.conventions}>
      <Frame key={found.data.id} current={found.data} />
    </Written>
  );
}

const STEPS = [
  { id: "intake", label: "Intake" },
  { id: "energy", label: "Energy" },
  { id: "targets", label: "Targets" },
  { id: "plan", label: "Plan" },
  { id: "checks", label: "Checks" },
  { id: "kitchen", label: "Kitchen" },
  { id: "follow", label: "Follow-up" },
  { id: "history", label: "History" },
] as const;

interface Place {
  id: string;
  label: string;
  to: string;
  step: CaseStep | undefined;
  /** How much is to be settled there; 0 for nothing. */
  open: number;
}

/** The steps of a case in their order, its recipes among them. */
function usePlaces(current: Case): {
  places: Place[];
  next: CaseStep | null;
  guide: StepsOfCase["guide"] | undefined;
} {
  const steps = useQuery(stepsQuery(current.id)).data;
  const at = `/cases/${current.id}`;
  const of = (id: string) => steps?.steps.find((s) => s.kind === id);
  // On the bench of a recipe its own checks are meant.
  const here = Number(/\/recipes\/(\d+)/.exec(useLocation().pathname)?.[1] ?? Number.NaN);
  const benched = steps?.steps.find((s) => s.kind === "recipe" && s.recipe === here);
  const plain = STEPS.map(({ id, label }) => ({
    id,
    label,
    to: id === "checks" && benched ? `${at}/checks/${here}` : `${at}/${id}`,
    step: of(id),
    open: id === "checks" ? ((benched ?? of(id))?.open ?? 0) : 0,
  }));
  const recipes = current.recipes
    .filter((r) => !r.archived)
    .map((recipe) => ({
      id: `recipe-${recipe.id}`,
      label: recipe.name,
      to: `${at}/recipes/${recipe.id}`,
      step: steps?.steps.find((s) => s.kind === "recipe" && s.recipe === recipe.id),
      open: 0,
    }));
  return {
    places: [...plain.slice(0, 3), ...recipes, ...plain.slice(3)],
    next: steps?.next ?? null,
    guide: steps?.guide,
  };
}

function toStep(current: Case, step: Pick<CaseStep, "kind" | "recipe">): string {
  const root = step.kind === "recipe" ? "recipes" : step.kind;
  const place = step.recipe === null ? step.kind : `${root}/${step.recipe}`;
  return `/cases/${current.id}/${place}`;
}

/** Be led, or no longer; the keys go where the way goes on. */
function useGuidingHand(caseId: number, guide: StepsOfCase["guide"] | undefined) {
  const strip = useRef<HTMLElement>(null);
  const again = useRef<HTMLButtonElement>(null);
  const menu = useRef<HTMLButtonElement>(null);
  const asked = useRef(false);
  const lead = useGuiding(caseId);
  const led = !!guide;
  useEffect(() => {
    if (!asked.current) return;
    asked.current = false;
    // Where the steps are a list the key stands below it, on a phone it is in their menu.
    const out = again.current?.offsetParent ? again.current : menu.current;
    (led ? strip.current : out)?.focus();
  }, [led]);
  const ask = (guided: boolean) => {
    if (lead.isPending) return;
    asked.current = true;
    lead.mutate(guided);
  };
  return { strip, again, menu, ask };
}

function Frame({ current }: { current: Case }) {
  const { places, next, guide } = usePlaces(current);
  const guiding = useGuidingHand(current.id, guide);
  const path = useLocation().pathname;
  const here = places.find((place) => path.startsWith(place.to));
  const isRecipe = here?.id.startsWith("recipe-") ?? true;
  // A recipe says its own name.
  useTitle(isRecipe ? undefined : here?.label, isRecipe ? undefined : current.dog.name);
  const rest = places.findIndex((place) => place.id === "plan");
  return (
    <div className="flex min-h-0 flex-1">
      <nav
        aria-label="Steps"
        className="hidden w-34 shrink-0 flex-col border-line border-r py-2 mid:flex wide:overflow-auto"
      >
        {places.slice(0, rest).map((place) => (
          <StepLink key={place.id} place={place} />
        ))}
        <NewRecipe current={current} />
        <PutAway current={current} />
        {places.slice(rest).map((place) => (
          <StepLink key={place.id} place={place} />
        ))}
        {next && (
          <p className="mt-3 border-line border-t px-3 pt-2 text-data">
            <span className="text-soft">Next</span>{" "}
            <Link to={toStep(current, next)} className="underline underline-offset-2">
              {told(next.words)}
            </Link>
          </p>
        )}
        {guide === null && (
          <button
            ref={guiding.again}
            type="button"
            className="mt-2 px-3 py-1 text-left text-data text-soft underline underline-offset-2"
            onClick={() => guiding.ask(true)}
          >
            Guide me
          </button>
        )}
      </nav>
      <div className="flex min-w-0 flex-1 flex-col">
        <DogLine value={current}>
          <Menu
            trigger={guiding.menu}
            label={`${here?.label ?? "Steps"}, ${(here ? places.indexOf(here) : -1) + 1} of ${places.length}`}
            className="border border-edge mid:hidden"
          >
            {places.map((place) => (
              <MenuLink key={place.id} to={place.to}>
                <StepWords place={place} />
              </MenuLink>
            ))}
            {next && <MenuLink to={toStep(current, next)}>Next: {told(next.words)}</MenuLink>}
            {guide === null && <MenuButton onChoose={() => guiding.ask(true)}>Guide me</MenuButton>}
          </Menu>
        </DogLine>
        {guide && (
          <Guide
            strip={guiding.strip}
            way={guide}
            onLeave={() => guiding.ask(false)}
            toStop={(stop) =>
              stop.recipe === null && stop.kind === "recipe"
                ? `/cases/${current.id}/energy`
                : toStep(current, stop)
            }
          />
        )}
        <Outlet context={current} />
      </div>
    </div>
  );
}

function NewRecipe({ current }: { current: Case }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const start = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/cases/{id}/recipes", {
          params: { path: { id: current.id } },
          body: { name: freeName(current.recipes.map((r) => r.name)) },
        }),
      ),
    onSuccess: async (made) => {
      await client.invalidateQueries({ queryKey: keyOf("case", current.id) });
      void forget(client, "recipe");
      navigate(`/cases/${current.id}/recipes/${made.id}`);
    },
    onError: (error) => notice(error.message),
  });
  return (
    <button
      type="button"
      disabled={start.isPending}
      onClick={() => start.mutate()}
      className="block w-full border-transparent border-l-[3px] px-3 py-1.5 text-left text-soft leading-tight hover:bg-groove/60"
    >
      + New recipe
    </button>
  );
}

/** Recipes that were put away: each can be taken back, or deleted for good. */
function PutAway({ current }: { current: Case }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const refresh = () => client.invalidateQueries({ queryKey: keyOf("case", current.id) });
  const takeBack = useMutation({
    mutationFn: (id: number) =>
      take(
        api.POST("/api/recipes/{id}/archive", {
          params: { path: { id } },
          body: { archived: false },
        }),
      ),
    onSuccess: (_, id) => refresh().then(() => navigate(`/cases/${current.id}/recipes/${id}`)),
    onError: (error) => notice(error.message),
  });
  const remove = useMutation({
    mutationFn: (id: number) => take(api.DELETE("/api/recipes/{id}", { params: { path: { id } } })),
    onSuccess: refresh,
    onError: (error) => notice(error.message),
  });
  const away = current.recipes.filter((r) => r.archived);
  if (away.length === 0) return null;
  return (
    <details className="px-3 py-1 text-data">
      <summary className="cursor-pointer text-soft">{away.length} put away</summary>
      <ul>
        {away.map((recipe) => (
          <li key={recipe.id} className="py-0.5">
            {recipe.name}{" "}
            <button
              type="button"
              className="py-1 underline"
              aria-label={`Take “${recipe.name}” back`}
              onClick={() => takeBack.mutate(recipe.id)}
            >
              take back
            </button>{" "}
            <button
              type="button"
              className="py-1 text-madder underline"
              aria-label={`Delete “${recipe.name}” for good`}
              onClick={() =>
                confirm(
                  `Delete “${recipe.name}” with its versions and their links for good? This cannot be undone.`,
                ) && remove.mutate(recipe.id)
              }
            >
              delete
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

/** "Draft 2" while there is a draft already. */
function freeName(taken: readonly string[]): string {
  const names = Array.from({ length: taken.length + 1 }, (_, i) => `Draft ${i + 1}`);
  return names.find((name) => !taken.includes(name)) ?? "Draft";
}

/** A step with its mark, and what is to do in a tooltip and for who does not see the mark. */
function StepWords({ place }: { place: Place }) {
  const { step } = place;
  return (
    <span className="flex items-center gap-2" title={step?.words ? told(step.words) : undefined}>
      {step ? <StepMark state={step.state} /> : <span className="w-2.5 shrink-0" />}
      <span className="min-w-0 break-words">{place.label}</span>
      {place.open > 0 && (
        <span className="ml-auto text-data text-soft">
          {place.open}
          <span className="sr-only"> to settle</span>
        </span>
      )}
      {step && <span className="sr-only">, {STATE_WORDS[step.state]}</span>}
    </span>
  );
}

function StepLink({ place }: { place: Place }) {
  return (
    <NavLink
      to={place.to}
      className={({ isActive }) =>
        `block border-l-[3px] px-2.5 py-1.5 leading-tight ${isActive ? "border-oak-deep bg-groove font-semibold" : "border-transparent hover:bg-groove/60"}`
      }
    >
      <StepWords place={place} />
    </NavLink>
  );
}

function DogLine({ value, children }: { value: Case; children: ReactNode }) {
  const dog = value.dog;
  const sex = [dog.neutered ? "neutered" : dog.neutered === false ? "entire" : "", dog.sex]
    .filter((word) => word && word !== "unknown")
    .join(" ");
  return (
    <div className="flex flex-wrap items-baseline gap-x-4 gap-y-0.5 border-line border-b px-4 py-1.5 wrap-anywhere">
      {children}
      <h1>{dog.name}</h1>
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
