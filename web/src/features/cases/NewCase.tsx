import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useNavigate } from "react-router";
import { api, take } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget } from "~/shared/keys";
import { clientsQuery } from "~/shared/queries";
import { useSettled } from "~/shared/useSettled";
import { Button, Dialog } from "~/ui";

interface Started {
  dog_name: string;
  client_name: string;
  /** Which of the clients of this name, "new" for another one, "" while it is not said. */
  owner: string;
  weight_kg: string;
  breed: string;
}

/** A case from the little that is needed to start; what else is to ask stands in the intake. */
export function NewCase({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const { body } = conventions();
  const create = useServerForm({
    keptAs: "new-case",
    defaults: { dog_name: "", client_name: "", owner: "", weight_kg: "", breed: "" },
    send: ({ owner, weight_kg, ...asked }: Started) =>
      take(
        // The weight goes as it was typed ("18 lb"): the server reads it.
        api.POST("/api/cases", {
          body: {
            ...asked,
            client_id: Number(owner) || null,
            another: owner === "new",
            weight_kg: (/^[\d\s.,/]+$/.test(weight_kg)
              ? `${weight_kg} ${body}`
              : weight_kg) as unknown as number,
          },
        }),
      ),
    onSaved: (made) => {
      void forget(client, "cases");
      navigate(`/cases/${made.id}/intake`);
    },
  });
  const { form } = create;
  const typed = form.watch("client_name").trim();
  const clients = useQuery(clientsQuery(useSettled(typed)));
  const name = typed.toLowerCase();
  const named = (clients.data ?? []).filter((c) => name !== "" && c.name.toLowerCase() === name);
  const owner = form.watch("owner");
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
        <TextField
          form={form}
          name="client_name"
          label="Owner"
          list={[...new Set((clients.data ?? []).map((c) => c.name))]}
          rules={{ onChange: () => form.setValue("owner", "") }}
          required
        />
        {named.length > 0 && (
          <fieldset className="flex flex-col gap-1">
            <legend className="font-medium">Is it the same {named[0]?.name}?</legend>
            {[
              ...named.map((c) => ({
                id: String(c.id),
                words: `the same, with ${c.dogs.join(", ") || "no dog yet"}`,
              })),
              { id: "new", words: "another person of that name" },
            ].map(({ id, words }) => (
              <label key={id} className="flex items-center gap-1.5">
                <input
                  type="radio"
                  name="owner"
                  required
                  className="accent-verdigris"
                  checked={owner === id}
                  onChange={() => form.setValue("owner", id)}
                />
                {words}
              </label>
            ))}
          </fieldset>
        )}
        <TextField
          form={form}
          name="weight_kg"
          label={`Weight, ${body}`}
          hint={body === "kg" ? "Or with its unit: 18 lb" : "Or with its unit: 8.2 kg"}
          required
        />
        <TextField form={form} name="breed" label="Breed (if known)" />
      </Form>
    </Dialog>
  );
}
