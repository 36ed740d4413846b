import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, take } from "~/api/client";
import { fileSize, when } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Loading, Problem } from "~/shared/states";
import { Button } from "~/ui";

const KEY = keyOf("records");
const LOOK_AGAIN_MS = 1000;

/** All records of the practice as one file: written beside the work, kept for a day. */
export function PracticeRecords() {
  const client = useQueryClient();
  const found = useQuery({
    queryKey: KEY,
    queryFn: () => take(api.GET("/api/practice/records")),
    staleTime: 0,
    refetchInterval: (query) => (query.state.data?.writing ? LOOK_AGAIN_MS : false),
  });
  const told = {
    onSuccess: (next: NonNullable<typeof found.data>) => client.setQueryData(KEY, next),
    onError: (error: Error) => notice(error.message),
  };
  const writing = useMutation({
    mutationFn: () => take(api.POST("/api/practice/records")),
    ...told,
  });
  const away = useMutation({
    mutationFn: () => take(api.DELETE("/api/practice/records")),
    ...told,
  });
  if (found.isPending) return <Loading what="the records" />;
  if (!found.data)
    return <Problem what="the records" error={found.error} retry={() => found.refetch()} />;
  const { writing: going, done, of, made, bytes, error } = found.data;
  return (
    <>
      <p className="mb-2 max-w-prose">
        One file with every table as JSON and CSV, every case as a case file, and the papers of what
        was issued as PDF. Another installation brings it in as a practice. It holds records of your
        clients: keep it as you keep those.
      </p>
      {error && (
        <p role="alert" className="mb-2 border-madder border-l-4 pl-3">
          {error}
        </p>
      )}
      <div className="flex flex-wrap items-center gap-3">
        <Button onClick={() => writing.mutate()} disabled={going} busy={writing.isPending}>
          {made ? "Write it anew" : "Write the file"}
        </Button>
        {going && (
          <span role="status" className="flex items-center gap-2">
            <progress value={done} max={Math.max(of, 1)} aria-label="Cases written" />
            {of > 0 ? `${done} of ${of} cases` : "reading the tables…"}
          </span>
        )}
        {made && !going && (
          <>
            <a href="/api/practice/records/file" download className="underline">
              Download it ({fileSize(bytes ?? 0)})
            </a>
            <span className="text-soft">written {when(made)}; deleted after a day</span>
            <Button small onClick={() => away.mutate()} busy={away.isPending}>
              Delete it now
            </Button>
          </>
        )}
      </div>
    </>
  );
}
