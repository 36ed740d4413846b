import { useQuery } from "@tanstack/react-query";
import { type KeyboardEvent, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { casesQuery } from "~/shared/queries";
import { Dialog, TextInput } from "~/ui";

interface Command {
  label: string;
  hint: string;
  run: () => void;
}

const STEPS = ["intake", "energy", "targets", "plan"] as const;
const SHOWN = 12;

/** Every word of the text must stand in the label, in any order. */
function matches(label: string, text: string): boolean {
  const wanted = text.toLowerCase().split(/\s+/).filter(Boolean);
  return wanted.every((word) => label.toLowerCase().includes(word));
}

/** Ctrl+K: go anywhere by typing a few letters of it. */
export function Palette({ onTheme }: { onTheme: () => void }) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    function onKey(event: globalThis.KeyboardEvent) {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        setOpen((now) => !now);
      }
    }
    addEventListener("keydown", onKey);
    return () => removeEventListener("keydown", onKey);
  }, []);
  return (
    <Dialog open={open} onClose={() => setOpen(false)} title="Go to">
      <Commands onTheme={onTheme} onDone={() => setOpen(false)} />
    </Dialog>
  );
}

function Commands({ onTheme, onDone }: { onTheme: () => void; onDone: () => void }) {
  const navigate = useNavigate();
  const cases = useQuery(casesQuery);
  const [text, setText] = useState("");
  const [at, setAt] = useState(0);
  const page = (label: string, to: string, hint = "page"): Command => ({
    label,
    hint,
    run: () => navigate(to),
  });
  const commands: Command[] = [
    page("Cases", "/"),
    page("Library", "/library"),
    page("Standards", "/standards"),
    { label: "Change between light and dark", hint: "look", run: onTheme },
    ...(cases.data ?? []).flatMap((c) => [
      ...c.recipes.map((r) =>
        page(`${c.dog}: ${r.name}`, `/cases/${c.id}/recipes/${r.id}`, "recipe"),
      ),
      ...STEPS.map((step) => page(`${c.dog}: ${step}`, `/cases/${c.id}/${step}`, "step")),
    ]),
  ];
  const found = commands.filter((c) => matches(c.label, text)).slice(0, SHOWN);
  function run(command: Command | undefined) {
    if (!command) return;
    onDone();
    command.run();
  }
  function onKeyDown(event: KeyboardEvent) {
    if (event.key === "ArrowDown" || event.key === "ArrowUp") {
      event.preventDefault();
      const step = event.key === "ArrowDown" ? 1 : -1;
      setAt((i) => Math.max(0, Math.min(found.length - 1, i + step)));
    } else if (event.key === "Enter") {
      event.preventDefault();
      run(found[at]);
    }
  }
  return (
    <>
      <TextInput
        role="combobox"
        aria-label="Where to go"
        aria-expanded
        aria-controls="palette-list"
        aria-activedescendant={found[at] ? `palette-${at}` : undefined}
        autoComplete="off"
        placeholder="A dog, a step, a recipe, a page"
        value={text}
        onChange={(e) => {
          setText(e.target.value);
          setAt(0);
        }}
        onKeyDown={onKeyDown}
        className="w-full"
      />
      <ul
        id="palette-list"
        // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: a combobox popup
        role="listbox"
        aria-label="Commands"
        className="mt-2"
      >
        {found.map((command, i) => (
          // biome-ignore lint/a11y/useKeyWithClickEvents: keys are handled by the input
          <li
            key={command.label}
            id={`palette-${i}`}
            // biome-ignore lint/a11y/noNoninteractiveElementToInteractiveRole: an option of the popup
            role="option"
            aria-selected={i === at}
            tabIndex={-1}
            onPointerMove={() => setAt(i)}
            onClick={() => run(command)}
            className={`flex cursor-pointer justify-between rounded px-2 py-1 ${i === at ? "bg-groove" : ""}`}
          >
            <span>{command.label}</span>
            <span className="text-soft">{command.hint}</span>
          </li>
        ))}
        {found.length === 0 && <li className="px-2 py-1 text-soft">Nothing is called that.</li>}
      </ul>
    </>
  );
}
