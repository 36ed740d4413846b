import { Component, type ReactNode } from "react";
import { Button } from "~/ui";

/** When a page cannot be drawn or fetched: what happened, that nothing is lost, and a way on. */
export class PageErrors extends Component<{ children: ReactNode }, { failed: boolean }> {
  override state = { failed: false };

  static getDerivedStateFromError() {
    return { failed: true };
  }

  override render() {
    if (!this.state.failed) return this.props.children;
    return (
      <main role="alert" className="m-6 max-w-xl border-madder stile">
        <p>
          This page could not be shown: it could not be fetched, or something in it went wrong. What
          you typed is kept in this browser.
        </p>
        <Button className="mt-2" onClick={() => location.reload()}>
          Load it again
        </Button>
      </main>
    );
  }
}
