import { useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, take } from "~/api/client";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget } from "~/shared/keys";
import { Button, Dialog } from "~/ui";

interface Started {
  dog_name: string;
  client_name: string;
  weight_kg: string;
  breed: string;
}

/** A case from the little that is needed to start. */
export function NewCase({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const create = useServerForm({
    keptAs: "new-case",
    defaults: { dog_name: "", client_name: "", weight_kg: "", breed: "" },
    send: (asked: Started) =>
      take(
        // The weight goes as it was typed ("18 lb"): the server reads it.
        api.POST("/api/cases", {
          body: { ...asked, weight_kg: asked.weight_kg as unknown as number },
        }),
      ),
    onSaved: (made) => {
      void forget(client, "cases");
      navigate(`/cases/${made.id}`);
    },
  });
  const { form } = create;
  return (
    <Dialog open onClose={onClose} title="New case">
      <Form
        of={create}
        className="flex flex-col gap-3"
        actions={
          <>
            <Button kind="solid" type="submit" disabled={create.pending}>
              Create
            </Button>
            <Button
              onClick={() => {
                create.forget();
                onClose();
              }}
            >
              Cancel
            </Button>
          </>
        }
      >
        <TextField form={form} name="dog_name" label="Dog" required />
        <TextField form={form} name="client_name" label="Owner" required />
        <TextField
          form={form}
          name="weight_kg"
          label="Weight"
          hint="In kg, or with its unit: 18 lb"
          required
        />
        <TextField form={form} name="breed" label="Breed (if known)" />
      </Form>
    </Dialog>
  );
}
