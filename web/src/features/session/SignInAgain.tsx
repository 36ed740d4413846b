import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useEffect } from "react";
import { api, type Session, take } from "~/api/client";
import { door } from "~/api/door";
import { keyOf } from "~/shared/keys";
import { Button, Dialog } from "~/ui";
import { SignInForm } from "./SignIn";

/** The session has ended: who was at work signs in where they are, and everything goes on. */
export default function SignInAgain({ as }: { as: string }) {
  const client = useQueryClient();
  const goOn = useCallback(
    (session: Session) => {
      client.setQueryData(keyOf("session"), session);
      door.open();
      client.invalidateQueries();
    },
    [client],
  );
  useEffect(() => {
    // Who signed in again in another window goes on here too; somebody else begins at the front door. It also
    // brings the token that signing in needs.
    take(api.GET("/api/session")).then(
      (session) => {
        if (session.username === as) goOn(session);
        else if (session.username) location.assign("/");
      },
      () => undefined,
    );
  }, [as, goOn]);
  function other() {
    client.clear();
    location.assign("/");
  }
  return (
    <Dialog open onClose={() => door.open()} title="You were signed out">
      <p className="mb-3">
        Nothing was done here for a while, or you were signed out elsewhere. What you typed is kept:
        sign in, and it is sent.
      </p>
      <SignInForm as={as} onSignedIn={goOn} />
      <p className="mt-4">
        <Button kind="quiet" onClick={other}>
          Somebody else
        </Button>
      </p>
    </Dialog>
  );
}
