import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, take } from "~/api/client";
import { notice } from "~/shared/notice";
import { Loading, Problem } from "~/shared/states";
import { Button, Dialog } from "~/ui";

/** Everything that the owner is asked, in one message to copy or to send. */
export function Questions({
  recipeId,
  email,
  questions,
  onClose,
}: {
  recipeId: number;
  email: string;
  questions: string[];
  onClose: () => void;
}) {
  const [text, setText] = useState("");
  const written = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/recipes/{id}/questions", {
          params: { path: { id: recipeId } },
          body: { questions },
        }),
      ),
    onSuccess: (message) => setText(message.text),
  });
  const write = useRef(written.mutate);
  useEffect(() => write.current(), []);
  const subject = written.data?.subject ?? "";
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
    <Dialog open wide onClose={onClose} title="What the owner is asked">
      {written.isPending && <Loading what="the message" />}
      {written.isError && <Problem error={written.error} retry={() => written.mutate()} />}
      {written.isSuccess && (
        <div className="flex flex-col gap-3">
          <textarea
            aria-label="The message"
            rows={Math.min(20, text.split("\n").length + 2)}
            value={text}
            onChange={(e) => setText(e.target.value)}
            className="rounded-corner border border-edge bg-sheet px-2 py-1"
          />
          <div className="flex flex-wrap gap-2">
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
          <p className="text-data text-soft">
            Lines that are asked about stay out of the recipe until you have looked at them again.
          </p>
        </div>
      )}
    </Dialog>
  );
}
