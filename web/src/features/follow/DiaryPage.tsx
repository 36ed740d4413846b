import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useParams } from "react-router";
import { api, type Diary, take } from "~/api/client";
import { bodyFigure, day, number, told } from "~/shared/format";
import { keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Written } from "~/shared/Written";
import { DayForm } from "./DayForm";

/** The owner’s short form on a phone: how the dog is today. */
export default function DiaryPage() {
  const { token = "" } = useParams();
  const found = useQuery({
    queryKey: keyOf("follow", "link", token),
    queryFn: () => take(api.GET("/api/diary/{token}", { params: { path: { token } } })),
    retry: false,
  });
  if (found.isPending) return <Loading what="the page" />;
  if (!found.data)
    return <Problem what="the page" error={found.error} retry={() => found.refetch()} />;
  return (
    <Written by={found.data.conventions}>
      <DiaryOf diary={found.data} token={token} />
    </Written>
  );
}

function DiaryOf({ diary, token }: { diary: Diary; token: string }) {
  const client = useQueryClient();
  const [sent, setSent] = useState(false);
  useTitle(`How is ${diary.dog}?`);
  const last = diary.days.find((d) => d.weight_kg !== null);
  return (
    <main className="mx-auto flex w-full max-w-lg flex-col gap-4 p-4">
      <h1>How is {diary.dog}?</h1>
      <p className="text-soft">
        Put down what you know; leave the rest empty. {diary.practice} sees it. Weigh on the same
        scale at the same hour, before food.
        {last &&
          ` The last weight: ${number(bodyFigure(last.weight_kg ?? 0), 2)} ${diary.conventions.body} on ${day(last.date)}.`}
      </p>
      <DayForm
        keptAs={`diary-${token.slice(0, 16)}`}
        large
        send={(body) => take(api.POST("/api/diary/{token}", { params: { path: { token } }, body }))}
        onSaved={(seen) => {
          client.setQueryData(keyOf("follow", "link", token), seen);
          setSent(true);
        }}
      />
      {sent && (
        <p role="status" className="border-verdigris stile">
          It is sent to {diary.practice}. Thank you.
        </p>
      )}
      {diary.flags.length > 0 && (
        <p role="alert" className="border-madder stile">
          <b className="font-semibold text-madder">Call your veterinarian now:</b>{" "}
          {told(diary.flags.join("; "))}.
        </p>
      )}
      <p className="border-madder stile">
        Do not wait for an answer here where something is wrong: vomiting twice in a day, blood, a
        swollen face, hard breathing, collapse, no food for a day. Call your veterinarian.
      </p>
      {diary.days.length > 0 && (
        <section aria-label="Put down before">
          <h2>Put down before</h2>
          <ul>
            {diary.days.map((d, i) => (
              <li key={`${d.date}-${i}`} className="border-line border-b py-1">
                {day(d.date)}
                {d.weight_kg !== null &&
                  `, ${number(bodyFigure(d.weight_kg), 2)} ${diary.conventions.body}`}
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}
