import { Popover } from "radix-ui";
import type { ReactNode } from "react";
import { BASES } from "~/shared/format";
import { Select } from "~/ui/Select";
import type { LookState, Policy } from "./useLook";

const POLICIES: { id: Policy; label: string; words: string }[] = [
  { id: "graded", label: "Graded", words: "estimates count and are shown as such" },
  { id: "strict", label: "Strict", words: "only analysed and label values count" },
  { id: "cautious", label: "Cautious", words: "minimums without estimates, maximums with them" },
];

const NONE = "none";

/** How the recipe is looked at, folded into one control that says how it stands. */
export function LookMenu({ look, named }: { look: LookState; named: string | undefined }) {
  // The case's own standard may be one that the list does not name as such.
  const own = look.choices.find((c) => c.id === look.standard);
  const choices = own
    ? look.choices
    : [{ id: look.standard, label: named ?? look.standard }, ...look.choices];
  const policy = POLICIES.find((p) => p.id === look.policy);
  const basis = BASES.find((b) => b.id === look.basis);
  const said = [own?.label ?? named ?? look.standard, policy?.label.toLowerCase(), basis?.label];
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`Looked at by ${said.join(", ")}: change`}
        className="inline-flex h-8 min-w-0 items-center gap-2 rounded-corner border border-edge bg-sheet px-2 hover:border-soft"
      >
        <span className="truncate">{said.join(", ")}</span>
        <span className="text-soft">▾</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="start"
          sideOffset={2}
          aria-label="How the recipe is looked at"
          className="z-40 flex w-96 max-w-[94vw] flex-col gap-3 rounded-corner border border-line bg-paper p-4"
        >
          <Part words="Whose limits the boards are held to.">
            <Select
              label="Standard and life stage"
              value={look.standard}
              onChange={look.setStandard}
              options={choices}
              className="w-full"
            />
          </Part>
          <Part words="A second standard, dotted on the wall.">
            <Select
              label="Second standard on the wall"
              value={look.second || NONE}
              onChange={(id) => look.setSecond(id === NONE ? "" : id)}
              options={[{ id: NONE, label: "No second standard" }, ...choices]}
              className="w-full"
            />
          </Part>
          <Part words={`How estimates count: ${policy?.words}.`}>
            <Select
              label="How estimates count"
              value={look.policy}
              onChange={look.setPolicy}
              options={POLICIES}
              className="w-full"
            />
          </Part>
          <Part words="On what the figures are given.">
            <Select
              label="Basis"
              value={look.basis}
              onChange={look.setBasis}
              options={BASES}
              className="w-full"
            />
          </Part>
          <p className="text-data text-soft">
            A look only: what the case itself is held to stands under Energy and Targets.
          </p>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Part({ words, children }: { words: string; children: ReactNode }) {
  return (
    <div className="flex flex-col gap-1">
      {children}
      <p className="text-data text-soft">{words}</p>
    </div>
  );
}
