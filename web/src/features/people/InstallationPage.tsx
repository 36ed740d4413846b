import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type Installation, take } from "~/api/client";
import { fileSize, when } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { notice } from "~/shared/notice";
import { Empty, Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Button } from "~/ui";
import { Page } from "~/ui/Page";
import { PracticeRecords } from "./PracticeRecords";
import { PracticeTabs } from "./PracticeTabs";
import { SpoiltRows } from "./SpoiltRows";

const KEY = keyOf("installation");

/** How the installation is: backups, disk, what went wrong. */
export default function InstallationPage() {
  useTitle("Installation");
  const found = useQuery({
    queryKey: KEY,
    queryFn: () => take(api.GET("/api/installation")),
    staleTime: 0,
  });
  if (found.isPending) return <Loading what="the installation" />;
  if (!found.data)
    return <Problem what="the installation" error={found.error} retry={() => found.refetch()} />;
  return <InstallationOf installation={found.data} />;
}

function InstallationOf({ installation }: { installation: Installation }) {
  const client = useQueryClient();
  const backing = useMutation({
    mutationFn: () => take(api.POST("/api/installation/backup")),
    onSuccess: (next) => {
      client.setQueryData(KEY, next);
      notice("The backup is made.");
    },
    onError: (error) => notice(error.message),
  });
  const { backups, failures, jobs } = installation;
  return (
    <Page className="mx-auto w-full max-w-5xl p-4 mid:p-6 wide:overflow-auto" scrolls>
      <h1 className="mb-2 text-page">Practice</h1>
      <PracticeTabs />
      <p className="mb-4 text-soft">
        Wainscot {installation.version}; records take {fileSize(installation.database_bytes)},{" "}
        {fileSize(installation.free_bytes)} are free on the disk.
        {installation.missing.length > 0 &&
          ` The database is ${installation.missing.length} changes behind: start the application anew.`}{" "}
        <a href="/licences.txt" className="underline">
          What others made of it
        </a>
      </p>
      {installation.scarce && (
        <p role="alert" className="mb-4 max-w-prose border-madder border-l-4 pl-3">
          <b>The disk is nearly full.</b> Make room before anything else: when it is full nothing
          more can be kept.
        </p>
      )}
      <h2 className="mb-2">Backups</h2>
      {installation.late && (
        <p role="alert" className="mb-2 max-w-prose border-madder border-l-4 pl-3">
          <b>The last backup is older than a day and a half.</b> Make one now, and look at what went
          wrong below.
        </p>
      )}
      <p className="mb-2 max-w-prose">
        {installation.backup_days === null
          ? "None are made by themselves here."
          : `One a day, kept for ${installation.backup_days} days.`}{" "}
        {installation.elsewhere
          ? "They lie where whoever keeps the installation has put them."
          : "They lie beside the records: a disk that breaks takes both. Have them put on another disk, or copied away."}
      </p>
      <Button onClick={() => backing.mutate()} busy={backing.isPending}>
        {backing.isPending ? "Making a backup…" : "Make one now"}
      </Button>
      {backups.length === 0 ? (
        <Empty className="mt-3">There is no backup yet.</Empty>
      ) : (
        <ul className="mt-3 border-line border-t">
          {backups.map((backup) => (
            <li key={backup.name} className="flex gap-3 border-line border-b py-1">
              <span className="w-44">{when(backup.at)}</span>
              <span className="flex-1 truncate text-soft">{backup.name}</span>
              <span>{fileSize(backup.bytes)}</span>
            </li>
          ))}
        </ul>
      )}
      <h2 className="mt-6 mb-2">All records of your practice</h2>
      <PracticeRecords />
      <h2 className="mt-6 mb-2">Work that takes a while</h2>
      <p>
        {jobs.length === 0
          ? "Nothing of this practice was worked out in the last week."
          : jobs.map((job) => `${job.count} ${job.state}`).join(", ")}
      </p>
      <h2 className="mt-6 mb-2">What cannot be read</h2>
      <SpoiltRows />
      <h2 className="mt-6 mb-2">What went wrong</h2>
      {failures.length === 0 ? (
        <Empty>Nothing that is known of.</Empty>
      ) : (
        <table className="w-full">
          <tbody>
            {failures.map((failure) => (
              <tr key={`${failure.at} ${failure.request}`} className="border-line border-b">
                <td className="w-44 py-1">{failure.at && when(failure.at)}</td>
                <td className="py-1">{failure.kind}</td>
                <td className="py-1 text-soft">{failure.where}</td>
                <td className="py-1 text-right font-mono text-data">{failure.request}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </Page>
  );
}
