import { notifyManager, QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode, type ReactNode } from "react";
import { createRoot } from "react-dom/client";
import { BrowserRouter, Navigate, Route, Routes } from "react-router";
import { untilAnswered } from "./api/client";
import { GlossaryContext, useFetchedGlossary } from "./api/words";
import { Tooltip } from "radix-ui";
import { CopyTables } from "./components/CopyTables";
import { Notices } from "./components/Notice";
import { HarnessPage } from "./HarnessPage";
import "./look.css";
import { recallTheme } from "./theme";
import { later, Laters } from "./components/Later";
import { Shelf } from "./shelf/Shelf";

const BENCH = later(() => import("./bench/Bench"), "Bench");
const DRAWERS = later(() => import("./drawers/Drawers"), "Drawers");
const FIND = later(() => import("./find/FindPage"), "FindPage");

// A newer program has been started since: its scripts have other names.
window.addEventListener("vite:preloadError", () => window.location.reload());

/** The words of the trade, for every label below. */
function Worded({ children }: { children: ReactNode }) {
  return <GlossaryContext value={useFetchedGlossary()}>{children}</GlossaryContext>;
}

const cache = new QueryClient({
  defaultOptions: {
    queries: { refetchOnWindowFocus: true, retry: 1, staleTime: 2000, refetchInterval: untilAnswered },
  },
});

// The version before is what was held: nothing of it is looked for in the one before that.
cache.setQueryDefaults(["before"], { structuralSharing: false });
// A reply is drawn at once, not after whatever else waits for its turn.
notifyManager.setScheduler(queueMicrotask);
recallTheme();
const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={cache}>
        <Tooltip.Provider delayDuration={350}>
          <Worded>
            <Notices>
              <CopyTables />
              <BrowserRouter>
                <Laters>
                  <Routes>
                    <Route path="/" element={<Shelf />} />
                    <Route path="/bench/:calculator?" element={<BENCH.View />} />
                    <Route path="/drawers/:leaf?" element={<DRAWERS.View />} />
                    <Route path="/find" element={<FIND.View />} />
                    <Route path="/d/:id/*" element={<HarnessPage />} />
                    <Route path="*" element={<Navigate to="/" replace />} />
                  </Routes>
                </Laters>
              </BrowserRouter>
            </Notices>
          </Worded>
        </Tooltip.Provider>
      </QueryClientProvider>
    </StrictMode>,
  );
}
