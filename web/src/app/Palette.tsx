import { useQuery } from "@tanstack/react-query";
import { Command } from "cmdk";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { tinykeys } from "tinykeys";
import { casesQuery } from "~/shared/queries";
import { useSettled } from "~/shared/useSettled";
import { Dialog } from "~/ui";

interface Entry {
  label: string;
  hint: string;
  run: () => void;
}

const STEPS = ["intake", "energy", "targets", "plan", "checks", "history"] as const;
const SHOWN = 12;

/** Every word of the text must stand in the label, in any order. */
function matches(label: string, text: string): boolean {
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  return wanted.every((word) => label.toLowerCase().includes(word));
}

/** How many of the words begin a word of the label: what begins like it stands before what only has it inside. */
function begun(label: string, text: string): number {
  const words = label.toLowerCase().split(/[^\p{L}\p{N}]+/u);
  const typed = text.toLowerCase().split(/\s+/).filter(Boolean);
  return typed.filter((wanted) => words.some((word) => word.startsWith(wanted))).length;
}

/** Ctrl+K: go anywhere by typing a few letters of it. */
export function Palette({ onTheme }: { onTheme: () => void }) {
  const [open, setOpen] = useState(false);
  useEffect(
    () =>
      tinykeys(window, {
        "$mod+KeyK": (event) => {
          event.preventDefault();
          setOpen((now) => !now);
        },
      }),
    [],
  );
  return (
    <Dialog open={open} onClose={() => setOpen(false)} title="Go to">
      <Entries onTheme={onTheme} onDone={() => setOpen(false)} />
    </Dialog>
  );
}

function Entries({ onTheme, onDone }: { onTheme: () => void; onDone: () => void }) {
  const navigate = useNavigate();
  const [text, setText] = useState("");
  // The first word that is not a step is a dog, or her client: the others are looked for in what is found.
  const who = text
    .split(/\s+/)
    .find((word) => word && !STEPS.some((s) => s.startsWith(word.toLowerCase())));
  const cases = useQuery(casesQuery({ words: useSettled(who ?? "") }));
  const page = (label: string, to: string, hint = "page"): Entry => ({
    label,
    hint,
    run: () => navigate(to),
  });
  const entries: Entry[] = [
    page("Desk", "/"),
    page("Cases", "/cases"),
    page("Issued plans", "/issued"),
    page("Outbox", "/outbox"),
    page("Library", "/library"),
    page("Shelf", "/shelf"),
    page("Standards", "/standards"),
    page("How sure are we", "/evidence"),
    page("Words: what they mean", "/words"),
    page("Practice: units, dates, money", "/practice"),
    { label: "Change between light and dark", hint: "look", run: onTheme },
    ...(cases.data?.rows ?? []).flatMap((c) => [
      ...c.recipes.map((r) =>
        page(`${c.dog}: ${r.name}`, `/cases/${c.id}/recipes/${r.id}`, "recipe"),
      ),
      ...STEPS.map((step) => page(`${c.dog}: ${step}`, `/cases/${c.id}/${step}`, "step")),
    ]),
  ];
  const found = entries
    .filter((entry) => matches(entry.label, text))
    .sort((a, b) => begun(b.label, text) - begun(a.label, text))
    .slice(0, SHOWN);
  return (
    // Which entries match is decided here: cmdk's own order is by likeness of letters.
    <Command label="Where to go" shouldFilter={false} loop>
      <Command.Input
        placeholder="A dog, a step, a recipe, a page"
        value={text}
        onValueChange={setText}
        className="h-8 w-full rounded-corner border border-edge bg-sheet px-2 placeholder:text-soft"
      />
      <Command.List label="Commands" className="mt-2">
        <Command.Empty className="px-2 py-1 text-soft">Nothing is called that.</Command.Empty>
        {found.map((entry, i) => (
          <Command.Item
            // Two dogs may have one name: the place tells their entries apart.
            key={`${entry.label} ${i}`}
            value={`${entry.label} ${i}`}
            onSelect={() => {
              onDone();
              entry.run();
            }}
            className="flex cursor-pointer justify-between rounded-corner px-2 py-1 data-[selected=true]:bg-groove"
          >
            <span>{entry.label}</span>
            <span className="text-soft">{entry.hint}</span>
          </Command.Item>
        ))}
      </Command.List>
    </Command>
  );
}
