import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type KeptRecipe, take } from "~/api/client";
import { spelled } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { notice } from "~/shared/notice";
import { keptRecipesQuery } from "~/shared/queries";
import { Loading, Problem } from "~/shared/states";
import { Button, Dialog } from "~/ui";

/** Recipes that others are begun with. */
export function KeptRecipes() {
  const client = useQueryClient();
  const [open, setOpen] = useState<KeptRecipe | null>(null);
  const found = useQuery(keptRecipesQuery);
  const put = (kept: KeptRecipe[]) => client.setQueryData(keptRecipesQuery.queryKey, kept);
  const drop = useMutation({
    mutationFn: (id: number) =>
      take(api.DELETE("/api/kept-recipes/{id}", { params: { path: { id } } })),
    onSuccess: put,
    onError: (error) => notice(error.message),
  });
  return (
    <section id="kept" aria-label="Recipes to begin with" className="mt-8 scroll-mt-4">
      <h2 className="border-line border-b pb-1">Recipes to begin with</h2>
      <p className="my-2 max-w-prose text-soft">
        Kept from a recipe’s menu on the bench (“Keep to begin others with”), and offered for an
        empty recipe of any dog, scaled to its energy.
      </p>
      {found.isPending ? (
        <Loading what="the recipes" />
      ) : found.data === undefined ? (
        <Problem what="the recipes" error={found.error} retry={() => found.refetch()} />
      ) : found.data.length === 0 ? (
        <p className="text-soft">None yet.</p>
      ) : (
        <ul>
          {found.data.map((kept) => (
            <li
              key={kept.id}
              className="flex flex-wrap items-baseline gap-x-4 border-line border-b py-1.5"
            >
              <b>{kept.name}</b>
              <span className="min-w-40 flex-1 text-soft">
                {kept.foods.map((food) => spelled(food)).join("; ")}
              </span>
              <span className="flex gap-3 text-data">
                <button
                  type="button"
                  className="underline"
                  aria-label={`Rename: ${kept.name}`}
                  onClick={() => setOpen(kept)}
                >
                  Rename
                </button>
                <button
                  type="button"
                  className="underline"
                  aria-label={`Take away: ${kept.name}`}
                  onClick={() =>
                    confirm(
                      `Keep “${kept.name}” no longer? Recipes that were begun with it stay. This cannot be undone.`,
                    ) && drop.mutate(kept.id)
                  }
                >
                  Take away
                </button>
              </span>
            </li>
          ))}
        </ul>
      )}
      {open && <Rename kept={open} onClose={() => setOpen(null)} onKept={put} />}
    </section>
  );
}

function Rename({
  kept,
  onClose,
  onKept,
}: {
  kept: KeptRecipe;
  onClose: () => void;
  onKept: (kept: KeptRecipe[]) => void;
}) {
  const naming = useServerForm({
    defaults: { name: kept.name },
    send: ({ name }: { name: string }) =>
      take(
        api.PUT("/api/kept-recipes/{id}", {
          params: { path: { id: kept.id } },
          body: { name, version: kept.version },
        }),
      ),
    onSaved: (every) => {
      onKept(every);
      onClose();
    },
  });
  return (
    <Dialog open onClose={onClose} title={`Rename “${kept.name}”`}>
      <Form
        of={naming}
        actions={
          <>
            <Button kind="solid" type="submit" busy={naming.pending}>
              Rename
            </Button>
            <Button onClick={onClose}>Leave it as it is</Button>
          </>
        }
      >
        <TextField
          form={naming.form}
          id="kept-name"
          name="name"
          label="Name"
          required
          maxLength={120}
          className="w-full"
        />
      </Form>
    </Dialog>
  );
}
