import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App } from "~/app/App";
import { queryClient } from "~/shared/queries";
import { startDrafts } from "~/shared/saving/drafts";
import { applyTheme, storedTheme } from "~/shared/theme";
import "./styles.css";

applyTheme(storedTheme());
await startDrafts();
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
