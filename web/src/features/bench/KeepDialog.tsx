import { useQueryClient } from "@tanstack/react-query";
import { api, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { notice } from "~/shared/notice";
import { keptRecipesQuery } from "~/shared/queries";
import { Button, Dialog } from "~/ui";

/** Keep a recipe as it stands, to begin those of other dogs with it. */
export function KeepDialog({
  recipe,
  name,
  onClose,
}: {
  recipe: number;
  name: string;
  onClose: () => void;
}) {
  const client = useQueryClient();
  const keeping = useServerForm({
    defaults: { name },
    send: (asked: { name: string }) =>
      take(api.POST("/api/kept-recipes", { body: { recipe, ...asked } })),
    onSaved: (kept) => {
      client.setQueryData(keptRecipesQuery.queryKey, kept);
      notice("Kept: it is offered for every empty recipe.");
      onClose();
    },
  });
  return (
    <Dialog open onClose={onClose} title="Keep to begin others with">
      <Form
        of={keeping}
        actions={
          <>
            <Button kind="solid" type="submit" busy={keeping.pending}>
              Keep it
            </Button>
            <Button onClick={onClose}>Cancel</Button>
          </>
        }
      >
        <p className="max-w-prose text-soft">
          The foods with their amounts and preparation, as they stand now. Begun for another dog
          they are scaled to its energy, and looked at anew: what was safe for this dog may not be
          for that one.
        </p>
        <TextField
          form={keeping.form}
          id="keep-name"
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
