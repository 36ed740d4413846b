import { useMutation } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api, take } from "~/api/client";
import { OwnerMessage } from "~/shared/OwnerMessage";
import { Loading, Problem } from "~/shared/states";
import { Dialog } from "~/ui";

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
  const written = useMutation({
    mutationFn: () =>
      take(
        api.POST("/api/recipes/{id}/questions", {
          params: { path: { id: recipeId } },
          body: { questions },
        }),
      ),
  });
  const write = useRef(written.mutate);
  useEffect(() => write.current(), []);
  return (
    <Dialog open wide onClose={onClose} title="What the owner is asked">
      {written.isPending && <Loading what="the message" />}
      {written.isError && <Problem error={written.error} retry={() => written.mutate()} />}
      {written.isSuccess && (
        <OwnerMessage
          email={email}
          subject={written.data.subject}
          message={written.data.text}
          note="Lines that are asked about stay out of the recipe until you have looked at them again."
          onClose={onClose}
        />
      )}
    </Dialog>
  );
}
