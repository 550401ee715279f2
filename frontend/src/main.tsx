import "@fontsource/ibm-plex-mono/400.css";
import "@fontsource/ibm-plex-mono/500.css";
import "@fontsource/ibm-plex-mono/600.css";
import "@fontsource/ibm-plex-sans/400.css";
import "@fontsource/ibm-plex-sans/500.css";
import "@fontsource/ibm-plex-sans/600.css";
import "./parts/base.css";
import "./parts/frame.css";
import "./parts/parts.css";
import "./parts/fields.css";
import "./parts/narrow.css";
import GlobalStyles from "@mui/material/GlobalStyles";
import { ThemeProvider } from "@mui/material/styles";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";
import { App, fetchView } from "./App";
import { ApiError } from "./api/client";
import { Messages } from "./parts/messages";
import { colourVariables, theme } from "./theme";

const client = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 15_000,
      retry: (count, error) => count < 1 && !(error instanceof ApiError && error.status >= 400),
    },
  },
});

fetchView(window.location.pathname);

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <ThemeProvider theme={theme}>
        <GlobalStyles styles={colourVariables} />
        <QueryClientProvider client={client}>
          <BrowserRouter>
            <Messages>
              <App />
            </Messages>
          </BrowserRouter>
        </QueryClientProvider>
      </ThemeProvider>
    </StrictMode>,
  );
}
