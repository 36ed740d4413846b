import { useQueryClient } from "@tanstack/react-query";
import { api, type CaseRow, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget } from "~/shared/keys";
import { Button, Dialog } from "~/ui";

/** Deleting cannot be undone, so the dog's name is asked for; archiving is offered first. */
export function DeleteCase({ row, onClose }: { row: CaseRow; onClose: () => void }) {
  const client = useQueryClient();
  const remove = useServerForm({
    defaults: { typed: "" },
    send: (_: { typed: string }) =>
      take(api.DELETE("/api/cases/{id}", { params: { path: { id: row.id } } })),
    onSaved: () => {
      onClose();
      void forget(client, "cases");
    },
  });
  const named = remove.form.watch("typed").trim() === row.dog;
  return (
    <Dialog open onClose={onClose} title={`Delete the case of ${row.dog}?`}>
      <Form
        of={remove}
        className="flex max-w-md flex-col gap-3"
        actions={
          <>
            <Button kind="danger" type="submit" disabled={!named} busy={remove.pending}>
              Delete
            </Button>
            <Button onClick={onClose}>Keep it</Button>
          </>
        }
      >
        <p>
          Its intake, targets, recipes with all their versions, the links to them and the plan go
          with it. This cannot be undone. A case that is only over can be archived: nothing is lost
          then.
        </p>
        <TextField
          form={remove.form}
          name="typed"
          label={`Type ${row.dog} to delete it`}
          autoComplete="off"
          rules={{ validate: (text) => text.trim() === row.dog || "That is another name." }}
        />
      </Form>
    </Dialog>
  );
}
