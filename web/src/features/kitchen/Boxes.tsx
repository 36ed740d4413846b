import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Batch, type BoxList, take } from "~/api/client";
import { day, foodWeight, number } from "~/shared/format";
import { forget, keyOf } from "~/shared/keys";
import { Loading, Problem } from "~/shared/states";
import { Button, Sideways, TextInput } from "~/ui";
import { Select } from "~/ui/Select";

type Box = BoxList["boxes"][number];

/** The boxes of a batch, as if it were the only one: when each is fed, when it is taken out; labels for all of them. */
export function Boxes({ batch }: { batch: Batch }) {
  const client = useQueryClient();
  const [from, setFrom] = useState(batch.feed_from ?? batch.cook_on);
  const [sheet, setSheet] = useState("a4-21");
  const [first, setFirst] = useState("0");
  const key = keyOf("boxes", batch.id, batch.version, from);
  const found = useQuery({
    queryKey: key,
    queryFn: () =>
      take(
        api.GET("/api/batches/{id}/boxes", {
          params: { path: { id: batch.id }, query: { from } },
        }),
      ),
    placeholderData: keepPreviousData,
    retry: false,
  });
  const save = useMutation({
    mutationFn: (gone: number[]) =>
      take(
        api.POST("/api/batches/{id}/boxes", {
          params: { path: { id: batch.id } },
          body: { feed_from: from, gone, version: batch.version },
        }),
      ),
    onSuccess: () => forget(client, "batch"),
  });
  const list = found.data;
  const said = batch.feed_from === from;
  return (
    <div className="mt-2 flex flex-col gap-3">
      <div className="flex flex-wrap items-center gap-3">
        <label htmlFor={`from-${batch.id}`}>Fed from</label>
        <TextInput
          id={`from-${batch.id}`}
          type="date"
          min={batch.cook_on}
          value={from}
          onChange={(e) => e.target.value && setFrom(e.target.value)}
          className="w-40"
        />
        {!said && (
          <Button
            kind="solid"
            disabled={!list || found.isError}
            busy={save.isPending}
            onClick={() => save.mutate([...(list?.gone ?? [])])}
          >
            It is fed from then
          </Button>
        )}
        <span className="ml-auto flex flex-wrap items-center gap-2">
          <Select
            label="Labels on"
            value={sheet}
            onChange={setSheet}
            options={(list?.sheets ?? []).map((s) => ({ id: s.id, label: s.name }))}
          />
          <label htmlFor={`first-${batch.id}`}>used up</label>
          <TextInput
            id={`first-${batch.id}`}
            inputMode="numeric"
            value={first}
            onChange={(e) => setFirst(e.target.value.replace(/\D/g, "").slice(0, 2))}
            className="w-12 text-right"
          />
          <a
            href={`/papers/batches/${batch.id}/labels.pdf?sheet=${sheet}&first=${first || 0}`}
            target="_blank"
            rel="noreferrer"
            className="underline"
          >
            Labels
          </a>
        </span>
      </div>
      {save.error && (
        <p role="alert" className="border-madder stile">
          Not kept: {save.error.message}.
        </p>
      )}
      {found.isError && <Problem what="the boxes" error={found.error} retry={found.refetch} />}
      {found.isPending && <Loading what="the boxes" />}
      {list && !found.isError && (
        <>
          {!said && (
            <p role="status" className="text-soft">
              As it would be, fed from {day(list.feed_from)}.
            </p>
          )}
          <Sideways>
            <Table list={list} />
          </Sideways>
          <p className="text-data text-soft">{list.law}</p>
        </>
      )}
    </div>
  );
}

function Table({ list }: { list: BoxList }) {
  const several = new Set(list.boxes.map((b) => b.case)).size > 1;
  return (
    <table className="w-full border-collapse">
      <thead>
        <tr className="border-line border-b text-left text-data text-soft">
          <th className="pr-2 text-right font-normal">box</th>
          {several && <th className="px-2 font-normal">dog</th>}
          <th className="px-2 text-right font-normal">weight</th>
          <th className="px-2 text-right font-normal">kcal</th>
          <th className="px-2 font-normal">fed on</th>
          <th className="px-2 font-normal">kept</th>
          <th className="px-2 font-normal">taken out on the evening of</th>
          <th className="pl-2 font-normal">last day</th>
        </tr>
      </thead>
      <tbody>
        {list.boxes.map((box) => (
          <Row key={box.number} box={box} several={several} gone={list.gone.includes(box.number)} />
        ))}
      </tbody>
    </table>
  );
}

function Row({ box, several, gone }: { box: Box; several: boolean; gone: boolean }) {
  return (
    <tr className={`border-line border-b ${gone ? "text-soft line-through" : ""}`}>
      <td className="pr-2 text-right">{box.number}</td>
      {several && <td className="px-2">{box.dog}</td>}
      <td className="whitespace-nowrap px-2 text-right">
        {foodWeight(box.grams)}
        {box.part && ", part"}
      </td>
      <td className="px-2 text-right">{number(box.kcal)}</td>
      <td className="whitespace-nowrap px-2">
        {day(box.eat_on)}, meal {box.meal}
      </td>
      <td className="px-2">{box.frozen ? "freezer" : "fridge"}</td>
      <td className="whitespace-nowrap px-2">{box.take_out ? day(box.take_out) : ""}</td>
      <td className="whitespace-nowrap px-2">{day(box.use_by)}</td>
    </tr>
  );
}
