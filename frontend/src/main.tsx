import { notifyManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { untilAnswered } from "./api/client";
import { Bench } from "./bench/Bench";
import { Drawers } from "./drawers/Drawers";
import { Tooltip } from "radix-ui";
import { CopyTables } from "./components/CopyTables";
import { Notices } from "./components/Notice";
import { HarnessPage } from "./HarnessPage";
import "./look.css";
import { recallTheme } from "./theme";
import { FindPage } from "./find/FindPage";
import { Shelf } from "./shelf/Shelf";

const cache = new QueryClient({
  defaultOptions: {
    queries: { refetchOnWindowFocus: true, retry: 1, staleTime: 2000, refetchInterval: untilAnswered },
  },
});

// A reply is drawn at once, not after whatever else waits for its turn.
notifyManager.setScheduler(queueMicrotask);
recallTheme();
const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={cache}>
        <Tooltip.Provider delayDuration={350}>
          <Notices>
            <CopyTables />
            <BrowserRouter>
              <Routes>
                <Route path="/" element={<Shelf />} />
                <Route path="/bench/:calculator?" element={<Bench />} />
                <Route path="/drawers/:leaf?" element={<Drawers />} />
                <Route path="/find" element={<FindPage />} />
                <Route path="/d/:id/*" element={<HarnessPage />} />
                <Route path="*" element={<Navigate to="/" replace />} />
              </Routes>
            </BrowserRouter>
          </Notices>
        </Tooltip.Provider>
      </QueryClientProvider>
    </StrictMode>,
  );
}
