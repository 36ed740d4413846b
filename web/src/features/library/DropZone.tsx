import { useEffect, useRef, useState } from "react";

/** A table that was dropped, chosen or pasted; `number` tells one from the next. */
export interface Table {
  number: number;
  name: string;
  text: string;
  format: "csv" | "json";
}

let tables = 0;

/** A text as its encoding has it: UTF-8, or what older spreadsheets write. */
async function textOf(file: File): Promise<string> {
  const bytes = await file.arrayBuffer();
  try {
    return new TextDecoder("utf-8", { fatal: true }).decode(bytes);
  } catch {
    return new TextDecoder("windows-1252").decode(bytes);
  }
}

/** Where a table is dropped, chosen, or pasted as cells of a spreadsheet. */
export function DropZone({ onTable }: { onTable: (table: Table) => void }) {
  const [over, setOver] = useState(false);
  const box = useRef<HTMLInputElement>(null);
  const give = useRef(onTable);
  give.current = onTable;
  async function read(file: File | undefined) {
    if (!file) return;
    const text = await textOf(file);
    tables += 1;
    const format = file.name.toLowerCase().endsWith(".json") ? "json" : "csv";
    onTable({ number: tables, name: file.name, text, format });
  }
  useEffect(() => {
    function paste(event: ClipboardEvent) {
      const text = event.clipboardData?.getData("text/plain") ?? "";
      if (!text.trim() || event.target instanceof HTMLTextAreaElement) return;
      event.preventDefault();
      tables += 1;
      const format = text.trimStart().startsWith("{") ? "json" : "csv";
      give.current({ number: tables, name: "What you pasted", text, format });
    }
    document.addEventListener("paste", paste);
    return () => document.removeEventListener("paste", paste);
  }, []);
  return (
    <div className="flex max-w-3xl flex-col gap-4">
      <label
        onDragOver={(e) => {
          e.preventDefault();
          setOver(true);
        }}
        onDragLeave={() => setOver(false)}
        onDrop={(e) => {
          e.preventDefault();
          setOver(false);
          void read(e.dataTransfer.files[0]);
        }}
        className={`flex cursor-pointer flex-col gap-1 border border-edge bg-sheet px-6 py-8 has-[:focus-visible]:outline-2 has-[:focus-visible]:outline-verdigris ${over ? "border-verdigris" : "border-dashed"}`}
      >
        <span className="font-semibold font-title text-part">
          {over ? "Let it go here" : "Drop a table here, or choose it"}
        </span>
        <span className="text-soft">
          CSV or JSON. Or copy cells in a spreadsheet and paste them on this page. Nothing is
          written before you have looked at it.
        </span>
        <input
          ref={box}
          type="file"
          aria-label="Bring in a CSV or JSON file"
          accept=".csv,.tsv,.txt,.json,text/csv,application/json"
          className="sr-only"
          onChange={(e) => void read(e.target.files?.[0])}
        />
      </label>
      <div>
        <h2>What a table looks like</h2>
        <p>
          A first row that names the columns, then a food a row. Headings may be yours: “Protein
          (g)”, “Calcium (mg/kg)”, “Fat % DM”, or INFOODS tagnames as in what you take out. Each is
          looked at with you. A name and the energy are needed; an empty cell is unknown, never
          nothing.
        </p>
        <table className="mt-2 text-data">
          <tbody>
            {[
              ["Food", "Moisture (%)", "kcal/100 g", "Protein (g)", "Calcium (mg)"],
              ["Stew, plain", "72", "112", "9.9", "110"],
              ["Oat mash", "81", "68", "2.4", ""],
            ].map((row, i) => (
              <tr key={row[0]} className={i === 0 ? "border-ink border-b" : "border-line border-b"}>
                {row.map((cell, j) => (
                  <td key={`${row[0]} ${j}`} className={`pr-4 ${j > 2 ? "max-mid:hidden" : ""}`}>
                    {cell || <span className="border-ink border-b border-dashed">empty</span>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </div>
  );
}
