import { useState } from "react";
import { useParams } from "react-router";
import { notice } from "~/shared/notice";
import { appended, TextPicker } from "~/shared/TextPicker";
import { Button } from "~/ui";

/** A message to the owner, to be changed, copied or sent. */
export function OwnerMessage({
  email,
  subject,
  message,
  note,
  onClose,
}: {
  email: string;
  subject: string;
  message: string;
  /** What is to be known before it is sent. */
  note?: string;
  onClose: () => void;
}) {
  const [text, setText] = useState(message);
  const { caseId } = useParams();
  const mail = `mailto:${email}?subject=${encodeURIComponent(subject)}&body=${encodeURIComponent(text)}`;
  async function copy() {
    try {
      await navigator.clipboard.writeText(text);
      notice("The message is copied.");
      onClose();
    } catch {
      notice("The browser does not let it be copied: mark the text and copy it by hand.");
    }
  }
  return (
    <div className="flex flex-col gap-3">
      <textarea
        aria-label="The message"
        rows={Math.min(20, text.split("\n").length + 2)}
        value={text}
        onChange={(e) => setText(e.target.value)}
        className="rounded-corner border border-edge bg-sheet px-2 py-1"
      />
      <div className="flex flex-wrap gap-2">
        <TextPicker
          of={caseId ? { case: Number(caseId) } : {}}
          onText={(more) => setText(appended(text, more))}
        />
        <Button kind="solid" onClick={() => void copy()}>
          Copy it
        </Button>
        <a
          href={mail}
          className="inline-flex h-8 items-center rounded-corner border border-edge bg-sheet px-3 font-medium hover:border-soft"
        >
          {email ? `Write to ${email}` : "Write a mail"}
        </a>
        <Button onClick={onClose}>Close</Button>
      </div>
      {note && <p className="text-data text-soft">{note}</p>}
    </div>
  );
}
