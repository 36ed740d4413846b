import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useLocation } from "react-router";
import type { Glossary } from "~/api/client";
import { glossaryQuery } from "~/shared/queries";
import { Empty, Loading, Problem } from "~/shared/states";
import { useTitle } from "~/shared/useTitle";
import { Button, TextInput } from "~/ui";
import { Page } from "~/ui/Page";

/** Every word, with its meaning. */
export default function GlossaryPage() {
  useTitle("Words");
  const found = useQuery(glossaryQuery);
  if (found.isPending) return <Loading what="the words" />;
  if (!found.data)
    return <Problem what="the glossary" error={found.error} retry={() => found.refetch()} />;
  return <Words glossary={found.data} />;
}

type Word = Glossary["terms"][number];

function fits({ term, says, more, also }: Word, text: string): boolean {
  return [term, says, more, ...also].join(" ").toLowerCase().includes(text.trim().toLowerCase());
}

function Words({ glossary }: { glossary: Glossary }) {
  const [text, setText] = useState("");
  const asked = useLocation().hash.slice(1);
  useEffect(() => {
    if (asked) document.getElementById(asked)?.scrollIntoView({ block: "center" });
  }, [asked]);
  const shown = glossary.terms.filter((term) => fits(term, text));
  return (
    <Page className="mx-auto w-full max-w-4xl p-4 mid:p-6 wide:overflow-auto">
      <div className="mb-4 flex flex-wrap items-center gap-3">
        <h1 className="text-page">Words</h1>
        <TextInput
          type="search"
          aria-label="Find a word"
          placeholder="RER, dry matter, cornice"
          value={text}
          onChange={(e) => setText(e.target.value)}
          className="w-64 wide:ml-auto"
        />
      </div>
      {shown.length === 0 && (
        <Empty action={<Button onClick={() => setText("")}>Show every word</Button>}>
          No word matches “{text}”.
        </Empty>
      )}
      {glossary.groups
        .map((group) => ({ ...group, terms: shown.filter((t) => t.group === group.id) }))
        .filter((group) => group.terms.length > 0)
        .map((group) => (
          <section key={group.id} aria-label={group.label} className="mb-6">
            <h2 className="border-ink border-b-2">{group.label}</h2>
            <dl>
              {group.terms.map((term) => (
                <div
                  key={term.id}
                  id={term.id}
                  className={`grid gap-x-6 border-line border-b py-1.5 mid:grid-cols-[12rem_1fr] ${term.id === asked ? "bg-sheet" : ""}`}
                >
                  <dt className="font-semibold">{term.term}</dt>
                  <dd>
                    {term.says} {term.more}
                    {term.source && <span className="text-data text-soft"> {term.source}.</span>}
                  </dd>
                </div>
              ))}
            </dl>
          </section>
        ))}
      <p className="text-data text-soft">
        Written from memory of the publications named, not compared with them in print.
      </p>
    </Page>
  );
}
