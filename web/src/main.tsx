import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "~/app/App";
import { ahead, isForOwner } from "~/app/pages";
import { queryClient, sessionQuery } from "~/shared/queries";
import { startDrafts } from "~/shared/saving/drafts";
import { applyTheme, storedTheme } from "~/shared/theme";
import "./styles.css";

/** So long nothing is drawn while the code of the page comes; then it says that it loads. */
const CODE_MS = 500;

applyTheme(storedTheme());
// All that the first page needs is asked for at once; what fails is told where it is shown.
const code = ahead(location.pathname).catch(() => undefined);
if (!isForOwner(location.pathname)) void queryClient.prefetchQuery(sessionQuery);
await startDrafts();
await Promise.race([code, new Promise((late) => setTimeout(late, CODE_MS))]);
const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={queryClient}>
        <BrowserRouter>
          <App />
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
}
