import "./kit/nonce";
import "@fontsource-variable/archivo/wdth.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { Away } from "./api/away";
import { Look } from "./kit/tokens";

const cache = new QueryClient({
  defaultOptions: {
    queries: {
      refetchOnWindowFocus: false,
      staleTime: 2000,
      networkMode: "always",
      retry: (count, error) => error instanceof Away || count < 1,
      retryDelay: (count) => Math.min(500 * 2 ** count, 8000),
    },
    mutations: { networkMode: "always" },
  },
});
const root = document.getElementById("desk");
if (root) {
  createRoot(root).render(
    <QueryClientProvider client={cache}>
      <Look />
      <App />
    </QueryClientProvider>,
  );
}
