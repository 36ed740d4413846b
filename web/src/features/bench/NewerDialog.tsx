import type { Recipe } from "~/api/client";
import { Button, Dialog } from "~/ui";
import type { Content } from "./editor";

/** Someone saved a newer version: both are shown and one is chosen. */
export function NewerDialog({
  mine,
  theirs,
  keepMine,
  takeTheirs,
}: {
  mine: Content;
  theirs: Recipe;
  keepMine: () => void;
  takeTheirs: () => void;
}) {
  return (
    <Dialog open onClose={() => {}} title="This recipe was changed somewhere else" wide>
      <p className="mb-3">Both versions are below. Nothing is saved until you choose.</p>
      <div className="grid grid-cols-2 gap-6">
        <Version
          title="Yours, on this page"
          lines={mine.lines.map((l) => [l.quantity, l.name] as const)}
        />
        <Version
          title="Saved meanwhile"
          lines={theirs.lines.map((l) => [l.quantity, l.name] as const)}
        />
      </div>
      <div className="mt-4 flex gap-2">
        <Button kind="solid" onClick={keepMine}>
          Keep mine
        </Button>
        <Button onClick={takeTheirs}>Take the saved one</Button>
      </div>
    </Dialog>
  );
}

function Version({ title, lines }: { title: string; lines: (readonly [string, string])[] }) {
  return (
    <section>
      <h3 className="mb-1 font-semibold">{title}</h3>
      <ul>
        {lines.map(([quantity, name], i) => (
          <li key={i} className="flex gap-2 border-line border-b py-0.5">
            <span className="w-20 shrink-0 text-right">{quantity}</span>
            <span>{name}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
