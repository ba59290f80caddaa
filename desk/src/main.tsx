import "./kit/nonce";
import "@fontsource-variable/archivo/wdth.css";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { createRoot } from "react-dom/client";
import { App } from "./App";
import { Look } from "./kit/tokens";

const cache = new QueryClient({ defaultOptions: { queries: { refetchOnWindowFocus: false, staleTime: 2000 } } });
const root = document.getElementById("desk");
if (root) {
  createRoot(root).render(
    <QueryClientProvider client={cache}>
      <Look />
      <App />
    </QueryClientProvider>,
  );
}
