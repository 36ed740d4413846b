import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Loading, Problem } from "~/shared/states";
import { Button } from "~/ui";

/** What of a case cannot be read, and the way to have the rest of it again. */
export function Faults({ caseId }: { caseId: number }) {
  const client = useQueryClient();
  const path = { path: { id: caseId } };
  const found = useQuery({
    queryKey: keyOf("faults", caseId),
    queryFn: () => take(api.GET("/api/cases/{id}/faults", { params: path })),
    staleTime: 0,
  });
  const mending = useMutation({
    mutationFn: () => take(api.DELETE("/api/cases/{id}/faults", { params: path })),
    onSuccess: ({ faults }) => {
      notice(
        `${faults.length === 1 ? "One thing was" : `${faults.length} things were`} set aside.`,
      );
      client.invalidateQueries();
    },
  });
  if (found.isPending) return <Loading what="what cannot be read" />;
  if (!found.data)
    return <Problem what="what cannot be read" error={found.error} retry={() => found.refetch()} />;
  if (found.data.faults.length === 0) return null;
  return (
    <section aria-label="What cannot be read" className="m-4 max-w-3xl">
      <ul className="border-line border-t">
        {found.data.faults.map((fault) => (
          <li
            key={`${fault.path} ${fault.held}`}
            className="border-line border-b py-1.5 wrap-anywhere"
          >
            <b>{fault.path}</b> {fault.why}
            <span className="block text-soft">stands there: {fault.held}</span>
          </li>
        ))}
      </ul>
      <p className="mt-3">
        Set aside, it is taken out of the case, and everything else can be read and worked with
        again. What stood there is kept under History. Enter anew what the dog still has: a
        condition that was taken out asks for nothing any more.
      </p>
      {mending.error && <Problem error={mending.error} />}
      <Button className="mt-2" busy={mending.isPending} onClick={() => mending.mutate()}>
        Set aside what cannot be read
      </Button>
    </section>
  );
}
