import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import { toast } from "sonner";
import { api, type ShareLink, take, type Version } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { Button, Dialog, Field, Loading, Problem, TextInput } from "~/ui";

/** Give others the sheet of a version: an address for some days that opens it without signing in. */
export function ShareDialog({ version, onClose }: { version: Version; onClose: () => void }) {
  const client = useQueryClient();
  const path = { id: version.id };
  const key = keyOf("links", version.id);
  const links = useQuery({
    queryKey: key,
    queryFn: () => take(api.GET("/api/versions/{id}/links", { params: { path } })),
  });
  const refresh = () =>
    Promise.all([
      client.invalidateQueries({ queryKey: key }),
      client.invalidateQueries({ queryKey: keyOf("versions", version.recipe) }),
    ]);
  const form = useForm({ defaultValues: { audience: "", days: 30 } });
  const make = useMutation({
    mutationFn: (asked: { audience: string; days: number }) =>
      take(
        api.POST("/api/versions/{id}/links", {
          params: { path },
          body: { document: "sheet", ...asked },
        }),
      ),
    onSuccess: async (link) => {
      form.reset();
      await copy(link);
      return refresh();
    },
  });
  const revoke = useMutation({
    mutationFn: (id: number) => take(api.DELETE("/api/links/{id}", { params: { path: { id } } })),
    onSuccess: refresh,
  });
  const { errors } = form.formState;
  const failed = make.error ?? revoke.error;
  return (
    <Dialog open onClose={onClose} title={`Share the sheet of “${version.name}”`}>
      <p>
        Whoever has the address can read this sheet, and nothing else, until the day it runs out or
        you take it back. It says what the veterinarian must approve first.
      </p>
      <form
        className="mt-3 flex flex-wrap items-start gap-3"
        onSubmit={form.handleSubmit((asked) => make.mutate(asked))}
      >
        <Field id="share-audience" label="For whom" error={errors.audience?.message}>
          <TextInput
            id="share-audience"
            maxLength={120}
            placeholder="the owner, the vet"
            aria-invalid={!!errors.audience}
            {...form.register("audience", {
              validate: (text) =>
                text.trim() !== "" || "Say for whom: you will want to know later.",
            })}
          />
        </Field>
        <Field id="share-days" label="Days it opens" error={errors.days?.message}>
          <TextInput
            id="share-days"
            type="number"
            className="w-24 text-right"
            aria-invalid={!!errors.days}
            {...form.register("days", {
              valueAsNumber: true,
              validate: (days) => (days >= 1 && days <= 366) || "1 to 366 days.",
            })}
          />
        </Field>
        <Button kind="solid" type="submit" disabled={make.isPending} className="mt-6">
          Make a link
        </Button>
      </form>
      {failed && <Problem error={failed} />}
      {links.isPending && <Loading what="the links" />}
      {links.isError && <Problem error={links.error} retry={() => links.refetch()} />}
      {links.data && links.data.length > 0 && (
        <ul aria-label="Links" className="mt-4 flex flex-col gap-1.5 border-line border-t pt-2">
          {links.data.map((link) => (
            <li key={link.id} className="flex items-center gap-2">
              <span className={`flex-1 ${link.open ? "" : "text-soft"}`}>
                {link.audience}, <span className="text-soft">{state(link)}</span>
              </span>
              {link.open && (
                <>
                  <Button kind="quiet" small onClick={() => copy(link)}>
                    Copy
                  </Button>
                  <Button
                    kind="quiet"
                    small
                    aria-label={`Take back the link for ${link.audience}`}
                    onClick={() => revoke.mutate(link.id)}
                  >
                    Take back
                  </Button>
                </>
              )}
            </li>
          ))}
        </ul>
      )}
    </Dialog>
  );
}

function state(link: ShareLink): string {
  const on = (when: string) => new Date(when).toLocaleDateString("en-GB");
  if (link.revoked) return `taken back on ${on(link.revoked)}`;
  return `${link.open ? "open until" : "ran out on"} ${on(link.expires)}`;
}

async function copy(link: ShareLink): Promise<void> {
  const address = `${location.origin}${link.path}`;
  try {
    await navigator.clipboard.writeText(address);
    toast(`The address for ${link.audience} is copied.`);
  } catch {
    // No clipboard here (plain http, or not allowed): show it to be copied by hand.
    toast(address, { duration: 60_000, closeButton: true });
  }
}
