import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { useNavigate } from "react-router";
import { api, type Case, type Chip, type FirstLine as Read, take } from "~/api/client";
import { conventions } from "~/shared/conventions";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { forget, keyOf } from "~/shared/keys";
import { clientsQuery } from "~/shared/queries";
import { Problem } from "~/shared/states";
import { useSettled } from "~/shared/useSettled";
import { Button, Dialog } from "~/ui";
import { FirstLine } from "./FirstLine";

interface Started {
  dog_name: string;
  client_name: string;
  /** Which of the clients of this name, "new" for another one, "" while it is not said. */
  owner: string;
  weight_kg: string;
  breed: string;
  line: string;
  left_out: string[];
  stages: Record<string, string>;
}

/** Boxes that the line fills, while nobody wrote into them. */
const BOXES = [
  ["name", "dog_name"],
  ["owner", "client_name"],
  ["weight", "weight_kg"],
  ["breed", "breed"],
] as const satisfies readonly (readonly [Chip["kind"], keyof Started])[];
const NOTHING: Read = { chips: [], not_taken: [] };

/** A case from the little that is needed to start; what else is to ask stands in the intake. */
export function NewCase({ onClose }: { onClose: () => void }) {
  const navigate = useNavigate();
  const client = useQueryClient();
  const { body } = conventions();
  const create = useServerForm<Started, Case>({
    keptAs: "new-case",
    defaults: {
      dog_name: "",
      client_name: "",
      owner: "",
      weight_kg: "",
      breed: "",
      line: "",
      left_out: [],
      stages: {},
    },
    send: ({ owner, weight_kg, ...asked }) =>
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
  const line = form.watch("line");
  const settled = useSettled(line);
  const reading = useQuery({
    queryKey: keyOf("first-line", settled),
    queryFn: () => take(api.POST("/api/cases/first-line", { body: { text: settled } })),
    enabled: settled.trim() !== "",
    placeholderData: (before) => before,
  });
  const read = (settled.trim() === "" ? undefined : reading.data) ?? NOTHING;
  // What the line put into a box: it may change it as long as nobody else did.
  const filled = useRef<Record<string, string>>({});
  useEffect(() => {
    for (const [kind, box] of BOXES) {
      const found = read.chips.find((c) => c.kind === kind)?.value ?? "";
      const stands = form.getValues(box);
      if (stands !== found && stands !== (filled.current[box] ?? "")) continue;
      filled.current[box] = found;
      if (stands === found) continue;
      form.setValue(box, found);
      if (box === "client_name") form.setValue("owner", "");
    }
  }, [read, form]);
  const leftOut = form.watch("left_out");
  const stages = form.watch("stages");
  // Enter in the line confirms it: on to the first box that is still empty, or to the key that makes the case.
  const make = useRef<HTMLButtonElement>(null);
  const confirming = useRef(false);
  const onward = () => {
    confirming.current = false;
    const empty = (["dog_name", "client_name", "weight_kg"] as const).find(
      (box) => form.getValues(box).trim() === "",
    );
    if (empty) form.setFocus(empty);
    else make.current?.focus();
  };
  const behind = settled !== line || reading.isFetching;
  useEffect(() => {
    if (confirming.current && !behind) onward();
  });
  return (
    <Dialog open onClose={onClose} title="New case" wide>
      <Form
        of={create}
        className="flex flex-col gap-3"
        actions={
          <>
            <Button ref={make} kind="solid" type="submit" busy={create.pending}>
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
        <TextField
          form={form}
          name="line"
          label="In one line"
          placeholder="Pip, 9 y, 18 lb, mitral valve disease C, furosemide"
          hint="Whatever you know, in any order; Enter goes on. Or fill the boxes below."
          maxLength={400}
          onKeyDown={(e) => {
            if (e.key !== "Enter" || line.trim() === "") return;
            e.preventDefault();
            confirming.current = true;
            if (!behind) onward();
          }}
        />
        {reading.error && <Problem what="the line" error={reading.error} retry={reading.refetch} />}
        <FirstLine
          read={read}
          leftOut={leftOut}
          stages={stages}
          onLeaveOut={(chip, out) =>
            form.setValue("left_out", [
              ...leftOut.filter((id) => id !== chip),
              ...(out ? [chip] : []),
            ])
          }
          onStage={(chip, stage) => form.setValue("stages", { ...stages, [chip]: stage })}
        />
        <div className="grid gap-3 mid:grid-cols-2">
          <TextField form={form} name="dog_name" label="Dog" required />
          <TextField
            form={form}
            name="client_name"
            label="Owner"
            list={[...new Set((clients.data ?? []).map((c) => c.name))]}
            rules={{ onChange: () => form.setValue("owner", "") }}
            required
          />
          <TextField
            form={form}
            name="weight_kg"
            label={`Weight, ${body}`}
            hint={body === "kg" ? "Or with its unit: 18 lb" : "Or with its unit: 8.2 kg"}
            required
          />
          <TextField form={form} name="breed" label="Breed (if known)" />
        </div>
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
      </Form>
    </Dialog>
  );
}
