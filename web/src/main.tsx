import "@fontsource-variable/atkinson-hyperlegible-next/wght.css";
import "@fontsource-variable/jetbrains-mono/wght.css";

import { ChakraProvider } from "@chakra-ui/react";
import { QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter } from "react-router";

import { compositionsQuery, queryClient } from "./api/queries";
import { lastKnown } from "./account/account";
import { App } from "./App";
import { hydrateFromBoard } from "./board/hydrate";
import { rememberFetched } from "./board/remember";
import { openTexts } from "./board/store";
import { install } from "./board/install";
import { Notices } from "./shell/notices";
import { system } from "./theme/system";
import { heldStill, holdStill } from "./theme/motion";
import { ThemeProvider } from "./theme/ThemeChoice";

holdStill(heldStill());
// What Home lists is asked for beside the code that draws it, not after it.
if (window.location.pathname === "/" && lastKnown?.role) void queryClient.prefetchQuery(compositionsQuery);
const root = document.getElementById("root");
if (!root) throw new Error("the page has no root element");

const page = createRoot(root);
const draw = () =>
  page.render(
    <StrictMode>
      <ChakraProvider value={system}>
        <ThemeProvider>
          <QueryClientProvider client={queryClient}>
            <BrowserRouter>
              <App />
            </BrowserRouter>
            <Notices />
          </QueryClientProvider>
        </ThemeProvider>
      </ChakraProvider>
    </StrictMode>,
  );

// What is on board is there before the first page asks for it. A browser that keeps nothing shows the pages all the same.
void openTexts()
  .then(hydrateFromBoard)
  .then(rememberFetched)
  .catch(() => undefined)
  .then(draw);
install();
