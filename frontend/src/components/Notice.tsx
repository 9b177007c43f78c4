import { Toast } from "radix-ui";
import { createContext, useCallback, useContext, useState, type ReactNode } from "react";

interface Said {
  key: number;
  text: string;
  action?: { label: string; run: () => void };
}

type Say = (text: string, action?: Said["action"]) => void;
const SayContext = createContext<Say>(() => undefined);

/** A line at the foot of the screen that says what was done, with the way back. */
export function Notices({ children }: { children: ReactNode }) {
  const [said, setSaid] = useState<Said[]>([]);
  const say = useCallback<Say>((text, action) => {
    setSaid((all) => [...all.slice(-2), { key: Date.now() + Math.random(), text, ...(action ? { action } : {}) }]);
  }, []);
  return (
    <SayContext.Provider value={say}>
      <Toast.Provider duration={7000}>
        {children}
        {said.map((s) => (
          <Toast.Root
            key={s.key}
            // Where it is the only way back, time to read it and reach for it.
            duration={s.action ? 12_000 : 7_000}
            onOpenChange={(open) => {
              if (!open) setSaid((all) => all.filter((x) => x.key !== s.key));
            }}
            className="flex items-center gap-4 border border-ink bg-ink px-4 py-2 text-on-ink"
          >
            <Toast.Description>{s.text}</Toast.Description>
            {s.action && (
              <Toast.Action altText={s.action.label} asChild>
                <button className="font-semibold underline underline-offset-4" onClick={s.action.run}>
                  {s.action.label}
                </button>
              </Toast.Action>
            )}
          </Toast.Root>
        ))}
        <Toast.Viewport className="fixed bottom-4 left-1/2 z-50 flex -translate-x-1/2 flex-col gap-2" />
      </Toast.Provider>
    </SayContext.Provider>
  );
}

export function useSay(): Say {
  return useContext(SayContext);
}
