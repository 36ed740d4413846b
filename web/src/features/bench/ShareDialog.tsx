import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ShareLink, take, type Version } from "~/api/client";
import { day } from "~/shared/format";
import { Form, TextField } from "~/shared/forms/fields";
import { useServerForm } from "~/shared/forms/useServerForm";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Loading, Problem } from "~/shared/states";
import { Button, Dialog } from "~/ui";

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
  const make = useServerForm({
    defaults: { audience: "", days: 30 },
    send: (asked: { audience: string; days: number }) =>
      take(
        api.POST("/api/versions/{id}/links", {
          params: { path },
          body: { document: "sheet", ...asked },
        }),
      ),
    onSaved: (link) => {
      form.reset();
      void copy(link);
      void refresh();
    },
  });
  const { form } = make;
  const revoke = useMutation({
    mutationFn: (id: number) => take(api.DELETE("/api/links/{id}", { params: { path: { id } } })),
    onSuccess: refresh,
  });
  return (
    <Dialog open onClose={onClose} title={`Share the sheet of “${version.name}”`}>
      <p>
        Whoever has the address can read this sheet, and nothing else, until the day it runs out or
        you take it back. It says what the veterinarian must approve first.
      </p>
      <Form
        of={make}
        className="mt-3 flex flex-wrap items-start gap-3"
        actions={
          <Button kind="solid" type="submit" busy={make.pending} className="mt-6">
            Make a link
          </Button>
        }
      >
        <TextField
          form={form}
          id="share-audience"
          name="audience"
          label="For whom"
          maxLength={120}
          placeholder="the owner, the vet"
          rules={{
            validate: (text) =>
              String(text).trim() !== "" || "Say for whom: you will want to know later.",
          }}
        />
        <TextField
          form={form}
          id="share-days"
          name="days"
          label="Days it opens"
          type="number"
          figure
          rules={{
            valueAsNumber: true,
            validate: (days) => (Number(days) >= 1 && Number(days) <= 366) || "1 to 366 days.",
          }}
        />
      </Form>
      {revoke.error && <Problem error={revoke.error} />}
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
  if (link.revoked) return `taken back on ${day(link.revoked)}`;
  return `${link.open ? "open until" : "ran out on"} ${day(link.expires)}`;
}

async function copy(link: ShareLink): Promise<void> {
  const address = `${location.origin}${link.path}`;
  try {
    await navigator.clipboard.writeText(address);
    notice(`The address for ${link.audience} is copied.`);
  } catch {
    // No clipboard here (plain http, or not allowed): show it to be copied by hand.
    notice(address, { duration: 60_000, closeButton: true });
  }
}
