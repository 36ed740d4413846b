import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { api, type Recipe, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import type { Saving } from "~/shared/saving/useDraft";
import { Button, Dialog, Field, TextInput } from "~/ui";
import { Menu, MenuButton, MenuDownload, MenuLink, MenuPaper } from "~/ui/Menu";
import { KeepDialog } from "./KeepDialog";

const FORMS = [
  ["text", "txt", "plain text"],
  ["csv", "csv", "a table (CSV)"],
  ["json-ld", "json", "schema.org data"],
] as const;

/** Rename, duplicate, bring a text into, keep as a file, put away a recipe; its name says which one is on the bench. */
export function RecipeMenu({
  recipe,
  saving,
  saved,
  onThumb,
}: {
  recipe: Recipe;
  saving: Saving;
  saved: boolean;
  /** A rule of thumb is to be judged. */
  onThumb: () => void;
}) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [renaming, setRenaming] = useState(false);
  const [keeping, setKeeping] = useState(false);
  const name = String(saving.value("name") ?? recipe.name);
  const refresh = () => client.invalidateQueries({ queryKey: keyOf("case", recipe.case) });
  const copy = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/cases/{id}/recipes", {
          params: { path: { id: recipe.case } },
          body: { name: `${name}, copy`.slice(0, 160), copy_of: recipe.id },
        }),
      ),
    onSuccess: async (made) => {
      await refresh();
      navigate(`/cases/${recipe.case}/recipes/${made.id}`);
    },
    onError: (error) => notice(error.message),
  });
  const put = (archived: boolean) =>
    take(
      api.POST("/api/recipes/{id}/archive", {
        params: { path: { id: recipe.id } },
        body: { archived },
      }),
    ).then(refresh);
  const away = useMutation({
    mutationFn: () => put(true),
    onSuccess: () => {
      navigate(`/cases/${recipe.case}`);
      notice(`“${name}” is put away; nothing of it is lost.`, {
        action: { label: "Take it back", onClick: () => void put(false) },
      });
    },
    onError: (error) => notice(error.message),
  });
  return (
    <>
      <Menu
        label={name}
        name={`Recipe “${name}”: rename, duplicate, bring in, save as a file, put away`}
        align="start"
        className="max-w-44 font-semibold"
      >
        <MenuButton onChoose={() => setRenaming(true)}>Rename</MenuButton>
        <MenuButton disabled={!saved} onChoose={() => copy.mutate()}>
          Duplicate
        </MenuButton>
        <MenuButton disabled={!saved} onChoose={() => setKeeping(true)}>
          Keep to begin others with…
        </MenuButton>
        <MenuButton onChoose={() => navigate(`/cases/${recipe.case}/recipes/${recipe.id}/bring`)}>
          Bring in a recipe…
        </MenuButton>
        <MenuLink to={`/library?recipe=${recipe.id}`}>Foods for its gaps</MenuLink>
        <MenuButton onChoose={onThumb}>Judge a rule of thumb…</MenuButton>
        <MenuPaper disabled={!saved} href={`/papers/recipes/${recipe.id}/verdict`}>
          How does it do for this dog?
        </MenuPaper>
        <MenuPaper disabled={!saved} href={`/papers/recipes/${recipe.id}/verdict-adult`}>
          How does it do for a plain adult?
        </MenuPaper>
        {FORMS.map(([form, suffix, what]) => (
          <MenuDownload
            key={form}
            disabled={!saved}
            href={`/api/recipes/${recipe.id}/export?form=${form}`}
            name={`${name}.${suffix}`}
          >
            Save as {what}
          </MenuDownload>
        ))}
        <MenuButton onChoose={() => away.mutate()}>Put away</MenuButton>
      </Menu>
      {keeping && <KeepDialog recipe={recipe.id} name={name} onClose={() => setKeeping(false)} />}
      {renaming && (
        <Rename
          name={name}
          onClose={() => setRenaming(false)}
          onName={(next) => {
            saving.set("name", next);
            setRenaming(false);
          }}
        />
      )}
    </>
  );
}

function Rename({
  name,
  onName,
  onClose,
}: {
  name: string;
  onName: (name: string) => void;
  onClose: () => void;
}) {
  const [text, setText] = useState(name);
  const empty = text.trim() === "";
  function submit(event: FormEvent) {
    event.preventDefault();
    if (!empty) onName(text.trim());
  }
  return (
    <Dialog open onClose={onClose} title="Rename the recipe">
      <form onSubmit={submit} className="flex flex-col gap-3">
        <Field id="recipe-name" label="Name" error={empty ? "Give the recipe a name." : undefined}>
          <TextInput
            id="recipe-name"
            value={text}
            maxLength={160}
            onChange={(e) => setText(e.target.value)}
            onFocus={(e) => e.target.select()}
          />
        </Field>
        <div className="flex gap-2">
          <Button kind="solid" type="submit" disabled={empty}>
            Rename
          </Button>
          <Button onClick={onClose}>Leave it as it is</Button>
        </div>
      </form>
    </Dialog>
  );
}
