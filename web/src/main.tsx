import { MutationCache, QueryCache, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import "virtual:kit-styles.css";
import { BrowserRouter } from "react-router";
import { mayPass, type Problem } from "./api/client";
import { App } from "./app";
import "./i18n";
import { startWorker } from "./frame/worker";
import { serverFirst } from "./kept/answers";
import { Boundary } from "./parts/boundary";
import { Kit } from "./parts/kit";
import "./theme/theme.css";

const refused = (error: unknown) => {
  // A session that ended: ask who is here; the sign-in page comes, drafts stay.
  if ((error as Problem | undefined)?.status === 401) client.invalidateQueries({ queryKey: ["get", "/api/v1/me"] });
};

const client: QueryClient = new QueryClient({
  queryCache: new QueryCache({ onError: refused }),
  mutationCache: new MutationCache({ onError: refused }),
  defaultOptions: {
    queries: {
      networkMode: "always",
      retry: (count, error) => mayPass(error) && count < 2,
      retryDelay: 800,
      refetchInterval: (q) => (q.state.status === "error" && mayPass(q.state.error) ? 3000 : false),
      staleTime: 10_000,
      persister: serverFirst(() => client) as never, // its type names one answer, ours keeps any
    },
    mutations: { networkMode: "always" },
  },
});

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <BrowserRouter>
          <Kit>
            <Boundary>
              <App />
            </Boundary>
          </Kit>
        </BrowserRouter>
      </QueryClientProvider>
    </StrictMode>,
  );
}
if (import.meta.env.PROD) startWorker();
